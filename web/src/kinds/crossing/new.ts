/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { CrossingStep } from "./step";
import { beginning } from "../../state/beginning";
import { isBody } from "../../state/bodies";

/** A curve in which the last two bodies cross. */
export function newCrossing(part: Part): CrossingStep | null {
  const [first, second] = part.steps.filter(isBody).slice(-2);
  if (first === undefined || second === undefined) return null;
  return {
    ...beginning(part, "crossing", "Crossing"),
    first: { step: first.id, edge: null, off: 0 },
    second: { step: second.id, edge: null, off: 0 },
  };
}
