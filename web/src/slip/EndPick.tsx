/** Where what is carried along ends: at a size, at a plane, or at a face, which waits until one is clicked. */
import { Button, SegmentedControl } from "@mantine/core";
import type { FaceProfile, PlaneRef } from "../api/types";
import { faceTitle } from "../state/faceTitle";
import { faceRef } from "../state/pickedFace";
import { useView } from "../state/view";
import { askFace } from "./askFace";
import { PlanePick } from "./PlanePick";

export type End = { by: "plane"; plane: PlaneRef } | { by: "face"; face: FaceProfile };
type Picked = "face" | "side";

const ENDS_AT = "Pick the face that it ends at";

interface Props {
  owner: string;
  title?: string;
  /** What is said while a face is waited for. */
  asked?: string;
  /** What there is to choose from; "" stands for none. */
  ends: { value: string; label: string }[];
  value: End | { by: "side"; face: FaceProfile } | { by: "all" | "path" } | null;
  /** The end that was picked; null, with which of `ends` it is, for one that is neither a plane nor a face. */
  onPick: (end: End | null, by: string) => void;
}

export function EndPick({ owner, title = "Where it ends", asked = ENDS_AT, ends, value, onPick }: Props) {
  const waiting = useView((s) => s.pick?.label === asked);
  const ask = (by: Picked) => askFace(owner, asked, (_, face) => onPick({ by: "face", face: faceRef(face) }, by));
  const picked: Picked | null = value?.by === "face" || value?.by === "side" ? value.by : null;
  const choose = (by: string) => {
    if (by === "face" || by === "side") return ask(by);
    onPick(by === "plane" ? { by: "plane", plane: { kind: "principal", plane: "XY" } } : null, by);
  };
  return (
    <>
      <SegmentedControl aria-label={title} data={ends} value={value?.by ?? ""} onChange={choose} />
      {(waiting || picked !== null) && (
        <Button
          size="compact-sm"
          variant={waiting ? "filled" : "default"}
          aria-pressed={waiting}
          onClick={() => ask(picked ?? "face")}
        >
          {waiting || value === null || !("face" in value) ? "Click it in the stage…" : faceTitle(value.face.face)}
        </Button>
      )}
      {value?.by === "plane" && (
        <PlanePick
          label={`Plane ${title.toLowerCase()}`}
          value={value.plane}
          onPick={(plane) => onPick({ by: "plane", plane }, "plane")}
        />
      )}
    </>
  );
}
