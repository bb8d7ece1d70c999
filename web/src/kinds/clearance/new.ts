/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { ClearanceStep } from "./step";
import { beginning } from "../../state/beginning";
import { isAlong, pathOf } from "../../state/bodies";

/** A clearance step for a path or a sweep, to all bodies before it; a bare path is given a tube. */
export function newClearance(part: Part, path: string): ClearanceStep {
  const sweep = part.steps.find((s) => isAlong(s) && (s.id === path || pathOf(s) === path));
  return {
    ...beginning(part, "clearance", "Clearance"),
    path: { step: sweep?.id ?? path, curves: null },
    diameter: sweep === undefined ? 10 : null,
  };
}
