/** A new step of this kind, as it is to begin with. */
import type { Part, PlaneRef, QuickProfile } from "../../api/types";
import { freshId, freshName } from "../../state/part";
import { sketchUse } from "../../state/roles";
import type { LoftSection, LoftStep, QuickOnPlane } from "./step";

const END = { how: "free" as const, strength: 1 };

export const drawn = (step: string): LoftSection => ({ by: "drawn", profile: { step, regions: null } });

export const quickOn = (plane: PlaneRef, quick: QuickProfile["quick"], width: number, height = 0): QuickOnPlane => ({
  by: "quick",
  profile: { quick, width, height, wall: 0, corners: [] },
  plane,
  x: 0,
  y: 0,
  turn: 0,
});

export function loftThrough(part: Part, sections: LoftSection[]): LoftStep {
  return {
    id: freshId(part, "loft"),
    name: freshName(part, "Loft"),
    off: false,
    kind: "loft",
    sections,
    centreline: null,
    rails: [],
    threads: [],
    section_change: "smooth",
    closed: false,
    start: END,
    end: END,
    surface: false,
    wall: null,
    wall_side: "inward",
    result: "separate",
    build_folded: false,
  };
}

/**
 * A loft through the last two closed sketches of a part, in their order, else a surface through the last two open ones;
 * none if there are not two.
 */
export function loftOfDrawn(part: Part): LoftStep | null {
  const drawings = part.steps.map((step) => ({ step, use: sketchUse(step) }));
  const last = (some: typeof drawings) => some.slice(-2).map(({ step }) => step);
  const closed = last(drawings.filter(({ use }) => use.profile));
  const found =
    closed.length === 2 ? closed : last(drawings.filter(({ use }) => use.path && !use.profile && !use.both));
  if (found.length < 2) return null;
  const made = loftThrough(
    part,
    found.map((s) => drawn(s.id)),
  );
  return found === closed ? made : { ...made, surface: true };
}
