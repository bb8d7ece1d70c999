/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { isSurface } from "../../state/bodies";
import { beginning } from "../../state/beginning";
import type { ThickenedStep } from "./step";

/** The selected surface, or the last one, 2 mm thick. */
export function newThickened(part: Part, selected: string | null): ThickenedStep | null {
  const surfaces = part.steps.filter(isSurface);
  const surface = surfaces.find((s) => s.id === selected) ?? surfaces.at(-1);
  if (surface === undefined) return null;
  return { ...beginning(part, "thickened", "Wall"), surface: surface.id, wall: 2 };
}
