/** A new step of this kind, as it is to begin with. */
import type { BuildData, Part } from "../../api/types";
import { ownersOfBodies } from "../../state/bodies";
import { beginning } from "../../state/beginning";
import type { CombinedStep } from "./step";

/** The first of the part's bodies with the selected one, or the last. */
export function newCombined(part: Part, result: BuildData | null, selected: string | null): CombinedStep | null {
  const bodies = ownersOfBodies(part, result, selected);
  const [body, tool] = [bodies[0], bodies.at(-1)];
  if (body === undefined || tool === undefined || tool.id === body.id) return null;
  return { ...beginning(part, "combined", "Together"), body: body.id, tools: [tool.id] };
}
