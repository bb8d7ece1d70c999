/**
 * The window in which files of triangles are saved, as fine as they are wanted: how many these are and how large the
 * files is told before.
 */
import { Button, Modal, NumberInput } from "@mantine/core";
import { useDebouncedValue } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, exportUrl, type MeshFineness } from "../api/client";
import { Refusal } from "../api/refusal";
import { FORMATS } from "../state/formats";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import { inMm, megabytes, trim } from "../ui/format";
import { MessageLine } from "../ui/MessageLine";
import table from "../ui/table.module.css";
import styles from "./MeshFiles.module.css";

const HOLD = 400; // ms after the last key, before it is counted

export function MeshFiles() {
  const open = useView((s) => s.meshFilesOpen);
  const close = () => useView.getState().set({ meshFilesOpen: false });
  return (
    <Modal opened={open} onClose={close} title="Files of triangles" size="md">
      {open && <Choice />}
    </Modal>
  );
}

function Choice() {
  const id = usePart((s) => s.id)!;
  const revision = usePart((s) => s.revision);
  const units = usePart((s) => s.document?.units ?? "mm");
  const [chord, setChord] = useState<number | string>("");
  const [angle, setAngle] = useState<number | string>("");
  const wanted: MeshFineness = {
    ...(typeof chord === "number" && { chord: inMm(chord, units) }),
    ...(typeof angle === "number" && { angle }),
  };
  const [held] = useDebouncedValue(wanted, HOLD);
  const asked = useQuery({
    queryKey: ["meshing", id, revision, held.chord, held.angle],
    queryFn: () => api.meshing(id, held),
    retry: false,
    placeholderData: keepPreviousData,
  });
  const counting = asked.isFetching || held.chord !== wanted.chord || held.angle !== wanted.angle;
  const told = asked.error === null && !counting ? asked.data : undefined;
  return (
    <>
      <div className={styles.fineness}>
        <NumberInput
          label="Chord"
          description="At most so far off the surface"
          placeholder="as shown"
          suffix={` ${units}`}
          min={0}
          decimalScale={5}
          value={chord}
          onChange={setChord}
          onKeyDown={(e) => e.key !== "Escape" && e.stopPropagation()}
        />
        <NumberInput
          label="Angle"
          description="Between two triangles at most"
          placeholder="as shown"
          suffix="°"
          min={0}
          decimalScale={2}
          value={angle}
          onChange={setAngle}
          onKeyDown={(e) => e.key !== "Escape" && e.stopPropagation()}
        />
      </div>
      {asked.error instanceof Refusal && !counting && <MessageLine message={asked.error.detail} />}
      <p role="status" className={styles.count}>
        {told ? `${told.triangles.toLocaleString("en")} triangles, every copy counted` : counting ? "Counting…" : ""}
      </p>
      <table className={table.numbers} aria-label="Files of triangles">
        <tbody>
          {FORMATS.filter((f) => f.triangles).map(({ form, title }) => (
            <tr key={form}>
              <th scope="row">{title}</th>
              <td className={styles.size}>
                {told?.sizes[form] !== undefined && `${form === "3mf" ? "about " : ""}${megabytes(told.sizes[form])}`}
              </td>
              <td>
                <Button
                  component="a"
                  href={exportUrl(id, form, held)}
                  variant="default"
                  size="compact-xs"
                  aria-label={`Save ${title}`}
                  disabled={told === undefined}
                  onClick={(e) => told === undefined && e.preventDefault()}
                >
                  Save
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft">
        Left empty, files have the triangles that are shown. {trim(units === "in" ? 0.0004 : 0.01)} {units} and 5° look
        smooth on most parts.
      </p>
    </>
  );
}
