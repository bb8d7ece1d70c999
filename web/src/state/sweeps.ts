/** What a sweep takes in: where its profile comes from, and new ones from what is drawn. */
import type { Expression, Part, Step, SweepStep } from "../api/types";

import { givesOf } from "./fields";

type Profile = SweepStep["profile"];
export type SketchProfile = Extract<Profile, { regions: string[] | null }>;
export type QuickProfile = Extract<Profile, { quick: string }>;

export const isQuick = (p: Profile): p is QuickProfile => "quick" in p;
export const isFace = (p: Profile): p is Extract<Profile, { face: string }> => "face" in p;
export const isSketch = (p: Profile): p is SketchProfile => "regions" in p;

/** A quick section with all that its other kinds would need. */
export const quickSection = (quick: QuickProfile["quick"], width: Expression, height: Expression = 0, wall: Expression = 0): QuickProfile => ({ quick, width, height, wall, corners: [] });

export type BodyStep = Extract<Step, { kind: "sweep" | "extrude" | "revolve" }>;

/** Whether a step carries a profile along something, to a body of its own. */
export const isBody = (s: Step | undefined): s is BodyStep => givesOf(s) === "body";

/** The step that a profile is drawn in or taken from; none for a quick section. */
export function profileSource(profile: Profile): string | null {
  return isQuick(profile) ? null : profile.step;
}

/** All that a sweep says unless something else is chosen. */
export const PLAIN: Omit<SweepStep, "id" | "name" | "path" | "profile"> = {
  off: false, kind: "sweep", more_profiles: [], bring: null, orientation: "turning", up: null, lying: null, facing: null, start_angle: 0, twist: 0,
  size: null, size_y: null, rails: [], rail_use: "stretch", start: null, end: null, way: "both", extend_start: 0, extend_end: 0, cut_start: null, cut_end: null, corners: "refuse", corner_radius: 0,
  surface: false, wall: null, wall_side: "inward", result: "separate", build_folded: false,
};

/** A profile that is drawn in the path's own plane is brought to the path from the start. */
export function bringFor(part: Part, path: string, profile: string): SweepStep["bring"] {
  const plane = (id: string) => {
    const step = part.steps.find((s) => s.id === id);
    return step?.kind === "sketch" ? JSON.stringify(step.plane) : null;
  };
  return plane(path) !== null && plane(path) === plane(profile) ? { anchor: "middle", at: 0, turn: 0 } : null;
}
