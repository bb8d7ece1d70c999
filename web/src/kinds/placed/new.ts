/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { givesOf } from "../../state/fields";
import { beginning } from "../../state/beginning";
import { useView } from "../../state/view";
import type { PlacedStep } from "./step";

/** Which part of the list it is, and its document as it is kept. */
export interface Chosen {
  part: string;
  file: string;
  title: string;
}

/** Another part, standing on the selected plane or where it stands by itself. */
export function newPlaced(part: Part, chosen: Chosen): PlacedStep {
  const { selected } = useView.getState();
  const plane = part.steps.find((s) => s.id === selected && givesOf(s) === "plane");
  return {
    ...beginning(part, "placed", chosen.title.slice(0, 60)),
    ...chosen,
    at: {
      by: "plane",
      plane: plane === undefined ? { kind: "principal", plane: "XY" } : { kind: "step", step: plane.id },
    },
  };
}
