/** Steps that make bodies, and where their profiles come from. */
import type { BodyStep, FaceProfile, Profile, QuickProfile, SketchProfile, Step } from "../api/types";
import { givesOf, kindsThatGive, usesOf } from "./fields";

/** Whether a step carries a profile along something, to a body of its own. */
export const isBody = (s: Step | undefined): s is BodyStep => givesOf(s) === "body";

/** The path that a step follows, if it follows one. */
export const pathOf = (s: Step): string | undefined => usesOf(s).find((u) => u.use === "path")?.to;

/** Whether a step makes a body along a path. */
export const isAlong = (s: Step | undefined): s is BodyStep => isBody(s) && pathOf(s) !== undefined;

/** Steps whose bodies can be repeated. */
export const bodySources = () => kindsThatGive("body");

export const isQuick = (p: Profile): p is QuickProfile => "quick" in p;
export const isFace = (p: Profile): p is FaceProfile => "face" in p;
export const isSketch = (p: Profile): p is SketchProfile => "regions" in p;

/** The step that a profile is drawn in or taken from; none for a quick section. */
export function profileSource(profile: Profile): string | null {
  return isQuick(profile) ? null : profile.step;
}
