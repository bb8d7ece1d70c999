/** A new step of this kind, as it is to begin with. */
import type { Expression, Part, QuickProfile } from "../../api/types";
import { isDrawn } from "../../state/drawings";
import { freshId, freshName } from "../../state/part";
import type { SweepStep } from "./step";

/** All that a sweep says unless something else is chosen. */
const PLAIN: Omit<SweepStep, "id" | "name" | "path" | "profile"> = {
  off: false,
  kind: "sweep",
  more_profiles: [],
  bring: null,
  orientation: "turning",
  up: null,
  lying: null,
  facing: null,
  start_angle: 0,
  twist: 0,
  size: null,
  size_y: null,
  rails: [],
  rail_use: "stretch",
  sections: [],
  section_change: "smooth",
  start: null,
  end: null,
  way: "both",
  extend_start: 0,
  extend_end: 0,
  cut_start: null,
  cut_end: null,
  corners: "mitre",
  corner_radius: 0,
  surface: false,
  wall: null,
  wall_side: "inward",
  result: "separate",
  build_folded: false,
};

export function newSweep(part: Part, path: string, profile: string): SweepStep {
  return {
    id: freshId(part, "sweep"),
    name: freshName(part, "Sweep"),
    path: { step: path, curves: null },
    ...PLAIN,
    profile: { step: profile, regions: null },
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
