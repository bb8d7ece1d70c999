/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { CrossingStep } from "./step";
import { freshId, freshName } from "../../state/part";
import { isBody } from "../../state/bodies";

/** A curve in which the last two bodies cross. */
export function newCrossing(part: Part): CrossingStep | null {
  const [first, second] = part.steps.filter(isBody).slice(-2);
  if (first === undefined || second === undefined) return null;
  return {
    id: freshId(part, "crossing"),
    name: freshName(part, "Crossing"),
    off: false,
    kind: "crossing",
    first: { step: first.id, edge: null, off: 0 },
    second: { step: second.id, edge: null, off: 0 },
    branch: 1,
  };
}
