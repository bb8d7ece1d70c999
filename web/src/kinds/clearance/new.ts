/** A new step of this kind, as it is to begin with. */
import type { ClearanceStep, Part } from "../../api/types";
import { freshId, freshName } from "../../state/part";

/** A clearance step for a path or a sweep, to all bodies before it; a bare path is given a tube. */
export function newClearance(part: Part, path: string): ClearanceStep {
  const sweep = part.steps.find((s) => s.kind === "sweep" && (s.id === path || s.path.step === path));
  return {
    id: freshId(part, "clearance"), name: freshName(part, "Clearance"), off: false, kind: "clearance", path: { step: sweep?.id ?? path, curves: null },
    diameter: sweep === undefined ? 10 : null, obstacles: [], least: 0, skip_start: 0, skip_end: 0,
  };
}
