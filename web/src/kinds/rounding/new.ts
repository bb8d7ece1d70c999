/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { beginning } from "../../state/beginning";
import { useView, type Pick } from "../../state/view";
import type { RoundingStep } from "./step";

export function newRounding(part: Part, how: RoundingStep["how"]): RoundingStep {
  const name = how.by === "chamfer" ? "Chamfer" : "Rounded edges";
  return { ...beginning(part, "rounding", name), edges: [], how };
}

export const PICKING = "Pick edges";

/** Edges are clicked in the stage, one after the other, until it is ended; one that is taken already is given back. */
export function pickEdges(step: string, take: Pick["take"]): void {
  useView.getState().set({ pick: { want: "edge", before: step, built: true, label: PICKING, take } });
}
