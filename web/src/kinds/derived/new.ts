/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { DerivedStep } from "./step";
import { beginning } from "../../state/beginning";

const DERIVED: { [K in DerivedStep["how"]["by"]]: { name: string; how: Extract<DerivedStep["how"], { by: K }> } } = {
  piece: {
    name: "Piece of a path",
    how: { by: "piece", start: null, end: null, measure: "length", from_end: false, cut_start: null, cut_end: null },
  },
  beside: { name: "Path beside", how: { by: "beside", distance: 10, angle: 0 } },
  mirror: { name: "Mirrored path", how: { by: "mirror", plane: { kind: "principal", plane: "YZ" } } },
  along: {
    name: "Path along a path",
    how: { by: "along", along: { step: "", curves: null }, at: "50%", held: false, turn: 0 },
  },
  move: { name: "Moved path", how: { by: "move", dx: 0, dy: 0, dz: 20, axis: "Z", turn: 0 } },
};

/** A path made of another. */
export function newDerived(part: Part, by: DerivedStep["how"]["by"], path: string): DerivedStep {
  const { name, how } = DERIVED[by];
  return { ...beginning(part, "derived", name, by), path: { step: path, curves: null }, how };
}
