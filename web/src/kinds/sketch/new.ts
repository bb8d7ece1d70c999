/** A new step of this kind, as it is to begin with. */
import type { Part, PlaneRef, Sketch } from "../../api/types";
import { freshId, freshName } from "../../state/part";
import type { SketchStep } from "./step";

const EMPTY: Sketch = { points: [], entities: [], constraints: [], dimensions: [], projections: [] };

export function newSketch(part: Part, plane: PlaneRef, stem = "Sketch"): SketchStep {
  return {
    id: freshId(part, "sketch"),
    name: freshName(part, stem),
    off: false,
    kind: "sketch",
    plane,
    sketch: EMPTY,
    same_as: null,
  };
}
