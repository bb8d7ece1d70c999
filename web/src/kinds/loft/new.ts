/** A new step of this kind, as it is to begin with. */
import type { Part, PlaneRef, QuickProfile } from "../../api/types";
import { beginning } from "../../state/beginning";
import { sketchUse } from "../../state/roles";
import type { LoftSection, LoftStep, QuickOnPlane } from "./step";

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
  return { ...beginning(part, "loft", "Loft"), sections };
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
