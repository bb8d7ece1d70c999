/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { ProjectedStep } from "./step";
import { beginning } from "../../state/beginning";
import { isBody } from "../../state/bodies";

/** A path laid onto the last body that it does not come from. */
export function newProjected(part: Part, path: string): ProjectedStep | null {
  const body = part.steps.filter(isBody).at(-1);
  if (body === undefined) return null;
  return {
    ...beginning(part, "projected", "Path on a surface"),
    path: { step: path, curves: null },
    onto: { step: body.id, edge: null, off: 0 },
    along: { by: "axis", axis: "Z" },
  };
}
