/** A new step of this kind, as it is to begin with. */
import type { Expression, Part, QuickProfile } from "../../api/types";
import { isDrawn } from "../../state/drawings";
import { beginning } from "../../state/beginning";
import type { SweepStep } from "./step";

export function newSweep(part: Part, path: string, profile: string): SweepStep {
  return {
    ...beginning(part, "sweep", "Sweep"),
    path: { step: path, curves: null },
    profile: { step: profile, regions: null },
    corners: "mitre", // what is drawn on screen is to be seen; a document that says nothing of corners refuses them
    bring: bringFor(part, path, profile),
  };
}

/** A profile that is drawn in the path's own plane is brought to the path from the start. */
export function bringFor(part: Part, path: string, profile: string): SweepStep["bring"] {
  const plane = (id: string) => {
    const step = part.steps.find((s) => s.id === id);
    return isDrawn(step) ? JSON.stringify(step.plane) : null;
  };
  return plane(path) !== null && plane(path) === plane(profile) ? { anchor: "middle", at: 0, turn: 0 } : null;
}

/** A quick section with all that its other kinds would need. */
export const quickSection = (
  quick: QuickProfile["quick"],
  width: Expression,
  height: Expression = 0,
  wall: Expression = 0,
): QuickProfile => ({ quick, width, height, wall, corners: [] });

/** A section that needs no sketch, along a path. */
export function quickAlong(part: Part, path: string, diameter: number): SweepStep {
  return { ...newSweep(part, path, path), profile: quickSection("round", diameter), bring: null };
}
