/** The sheets of a step: each told in short, and opened whole. */
import { Button, Modal, Select, TextInput } from "@mantine/core";
import { useLocalStorage } from "@mantine/hooks";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, sheetUrl, type Tolerance } from "../api/client";
import { Refusal } from "../api/refusal";
import type { StepReport } from "../api/types";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import { inUnits, length as lengthText, trim } from "../ui/format";
import { MessageLine } from "../ui/MessageLine";
import type { SheetRoom } from "./sheet";
import { SHEETS } from "./sheets";
import clsx from "clsx";
import styles from "./SheetFoot.module.css";
import table from "../ui/table.module.css";

function degreesAndMinutes(degrees: number): string {
  const minutes = Math.round(60 * degrees);
  return `${Math.floor(minutes / 60)}°${minutes % 60 === 0 ? "" : `${minutes % 60}'`}`;
}

export function SheetFoot({ step, report }: { step: string; report: StepReport | undefined }) {
  const [open, setOpen] = useState<SheetRoom | null>(null);
  if (report?.state !== "fresh") return null;
  return (
    <>
      {SHEETS.filter((s) => s.fits(report)).map((sheet) => (
        <section key={sheet.name} className={styles.sheetShort} aria-label={`${sheet.title}, in short`}>
          {sheet.Short !== undefined && <sheet.Short report={report} />}
          <Button size="compact-xs" variant="default" onClick={() => setOpen(sheet)}>
            {sheet.Short === undefined ? sheet.title : `${sheet.title} as a sheet`}
          </Button>
        </section>
      ))}
      {open !== null && <WholeSheet sheet={open} step={step} onClose={() => setOpen(null)} />}
    </>
  );
}

const TOLERANCES = [
  { value: "", label: "No general tolerances" },
  { value: "f", label: "ISO 2768 fine" },
  { value: "m", label: "ISO 2768 medium" },
  { value: "c", label: "ISO 2768 coarse" },
  { value: "v", label: "ISO 2768 very coarse" },
];

type Cell = number | string | null;

/** A sheet with its rows and figures; lengths in the part's unit. The row under the mouse is shown in the stage. */
function WholeSheet({ sheet, step, onClose }: { sheet: SheetRoom; step: string; onClose: () => void }) {
  const id = usePart((s) => s.id)!;
  const revision = usePart((s) => s.revision);
  const units = usePart((s) => s.document?.units ?? "mm");
  const name = usePart((s) => s.document?.steps.find((x) => x.id === step)?.name ?? step);
  const [tolerance, setTolerance] = useLocalStorage<Tolerance>({ key: "leadline-tolerance", defaultValue: "" });
  const asked = useQuery({
    queryKey: ["sheet", id, revision, step, sheet.name, tolerance],
    queryFn: () => api.sheet(id, step, sheet.name, tolerance),
    retry: false,
    placeholderData: keepPreviousData,
  });
  const [by, setBy] = useLocalStorage({ key: "leadline-made-by", defaultValue: "" });
  const url = (form: string) =>
    sheetUrl(id, step, sheet.name, form, form === "csv" ? {} : { by: by.trim(), tolerance });
  const figures: Record<string, unknown> = { ...asked.data };
  // what a step of this sort has no number of is left out
  const fields = Object.entries(asked.data?.fields ?? {}).filter(([k]) => figures[k] !== null && figures[k] !== "");
  const rows: Record<string, Cell>[] = asked.data?.rows ?? [];
  const columns = Object.entries(asked.data?.columns ?? {}).filter(([k]) => rows.some((row) => row[k] !== null));
  const told = (value: unknown, measure: string | null, off?: number): string => {
    if (typeof value !== "number") return typeof value === "string" ? value : "";
    if (measure === "length")
      return `${lengthText(value, units, 6)}${off === undefined ? "" : ` ±${trim(inUnits(off, units), 3)}`}`;
    if (measure === "angle")
      return `${trim(Number(value.toFixed(3)), 7)}°${off === undefined ? "" : ` ±${degreesAndMinutes(off)}`}`;
    return `${trim(value, 5)}${off === undefined ? "" : ` ±${trim(off, 3)}`}`;
  };
  return (
    <Modal
      opened
      onClose={onClose}
      title={`${sheet.title} of ${name}`}
      size="auto"
      overlayProps={{ backgroundOpacity: 0.25 }}
    >
      {asked.error instanceof Refusal && <MessageLine message={asked.error.detail} />}
      {asked.data && (
        <>
          <div className={styles.sheetRows}>
            <table className={clsx(styles.sheet, "figures")} aria-label={`${sheet.title} of ${name}`}>
              <thead>
                <tr>
                  {columns.map(([k, c]) => (
                    <th key={k} scope="col">
                      {c.title}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody onMouseLeave={() => useView.getState().set({ station: null })}>
                {rows.map((row, i) => (
                  <tr key={i} onMouseEnter={() => useView.getState().set({ station: middle(row) })}>
                    {columns.map(([k, c]) => (
                      <td key={k}>{told(row[k], c.measure, asked.data.tolerances.rows[i]?.[k])}</td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <dl className={clsx(styles.sheetFigures, "figures")}>
            {fields.map(([k, f]) => (
              <div key={k}>
                <dt>{f.title}</dt>
                <dd>{told(figures[k], f.measure, asked.data.tolerances.fields[k])}</dd>
              </div>
            ))}
          </dl>
          <div className={styles.sheetOf}>
            <span className="soft">
              Revision {asked.data.of.revision}, {asked.data.of.made}
            </span>
            <Select
              aria-label="General tolerances"
              data={TOLERANCES}
              value={tolerance}
              onChange={(v) => v !== null && setTolerance(v as Tolerance)}
            />
            <TextInput
              aria-label="Made by"
              placeholder="Made by"
              maxLength={80}
              value={by}
              onChange={(e) => setBy(e.currentTarget.value)}
              onKeyDown={(e) => e.key !== "Escape" && e.stopPropagation()}
            />
          </div>
          <div className={table.downloads}>
            <span className="soft">Save the sheet as</span>
            <Button component="a" href={url("pdf")} variant="default" size="compact-xs">
              PDF
            </Button>
            <Button component="a" href={url("csv")} variant="default" size="compact-xs">
              CSV
            </Button>
            <Button
              component="a"
              href={url("")}
              download={`${step}-${sheet.name}.json`}
              variant="default"
              size="compact-xs"
            >
              JSON
            </Button>
          </div>
        </>
      )}
    </Modal>
  );
}

/** Where along the path a row is, if it says so. */
const middle = (row: Record<string, Cell>): number | null =>
  typeof row.start === "number" && typeof row.end === "number" ? (row.start + row.end) / 2 : null;
