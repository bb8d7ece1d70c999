/** Colours that a body can be shown in. */
import type { Part } from "../api/types";

export type Colour = Part["colours"][string];

export const BODY_COLOURS: Record<Colour, string> = { reed: "#9fb07c", sea: "#6ea8a4", brass: "#cfae72", madder: "#c98a90", ink: "#75818e", chalk: "#e9e3d3" };

/** Copies are of their source's colour, unless they have their own. */
export function colourOf(part: Part | null, id: string): Colour | undefined {
  const step = part?.steps.find((s) => s.id === id);
  return part?.colours[id] ?? (step?.kind === "repeat" ? part?.colours[step.source] : undefined);
}
