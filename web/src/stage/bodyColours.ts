/** Colours that a body can be shown in. */
import type { Part } from "../api/types";
import { givesOf, usesOf } from "../state/fields";

export type Colour = Part["colours"][string];

export const BODY_COLOURS: Record<Colour, string> = {
  reed: "#9fb07c",
  sea: "#6ea8a4",
  brass: "#cfae72",
  madder: "#c98a90",
  ink: "#75818e",
  chalk: "#e9e3d3",
};

/** Copies are of their source's colour, unless they have their own. */
export function colourOf(part: Part | null, id: string): Colour | undefined {
  const step = part?.steps.find((s) => s.id === id);
  const source =
    step !== undefined && givesOf(step) === "copies" ? usesOf(step).find((u) => u.use === "body")?.to : undefined;
  return part?.colours[id] ?? (source === undefined ? undefined : colourOf(part, source));
}
