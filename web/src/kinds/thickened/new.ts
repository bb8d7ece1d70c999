/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { isSurface } from "../../state/bodies";
import { freshId, freshName } from "../../state/part";
import type { ThickenedStep } from "./step";

/** The selected surface, or the last one, 2 mm thick. */
export function newThickened(part: Part, selected: string | null): ThickenedStep | null {
  const surfaces = part.steps.filter(isSurface);
  const surface = surfaces.find((s) => s.id === selected) ?? surfaces.at(-1);
  if (surface === undefined) return null;
  return {
    id: freshId(part, "thickened"),
    name: freshName(part, "Wall"),
    off: false,
    kind: "thickened",
    surface: surface.id,
    wall: 2,
    side: "back",
    result: "separate",
  };
}
