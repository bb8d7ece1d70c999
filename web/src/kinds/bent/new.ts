/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { isAlong, pathOf } from "../../state/bodies";
import { beginning } from "../../state/beginning";
import type { BentStep } from "./step";

/** For the selected sweep, or the one along the selected path. */
export function newBent(part: Part, selected: string): BentStep | null {
  const tube = part.steps.find((s) => isAlong(s) && (s.id === selected || pathOf(s) === selected));
  if (tube === undefined) return null;
  return { ...beginning(part, "bent", "Bending"), tube: tube.id };
}
