/** Steps that make bodies, and where their profiles come from. */
import type { BodyStep, BuildData, FaceProfile, Part, Profile, QuickProfile, SketchProfile, Step } from "../api/types";
import { givesOf, kindsThatGive, usesOf } from "./fields";

/** Whether a step carries a profile along something, to a body of its own. */
export const isBody = (s: Step | undefined): s is BodyStep => givesOf(s) === "body";

/** The path that a step follows, if it follows one. */
export const pathOf = (s: Step): string | undefined => usesOf(s).find((u) => u.use === "path")?.to;

/** Whether a step makes a body along a path. */
export const isAlong = (s: Step | undefined): s is BodyStep => isBody(s) && pathOf(s) !== undefined;

/** Steps whose bodies can be repeated. */
export const bodySources = () => kindsThatGive("body");

/** Steps that bodies of the part belong to: those that make them, and copies. */
export const solidSources = () => [...bodySources(), ...kindsThatGive("copies")];
export const hasSolids = (s: Step) => solidSources().includes(s.kind);

/**
 * The steps that have bodies in the part as it is built, the selected one last: what is done to a body begins with
 * that.
 */
export function ownersOfBodies(part: Part, result: BuildData | null, selected: string | null): Step[] {
  const built = new Set(result?.bodies.map((b) => b.step));
  const able = part.steps.filter(hasSolids);
  const owners = able.some((s) => built.has(s.id)) ? able.filter((s) => built.has(s.id)) : able;
  return [...owners].sort((a, b) => Number(a.id === selected) - Number(b.id === selected));
}

export const isQuick = (p: Profile): p is QuickProfile => "quick" in p;
export const isFace = (p: Profile): p is FaceProfile => "face" in p;
export const isSketch = (p: Profile): p is SketchProfile => "regions" in p;

/** Whether a step's result is a surface without thickness. */
export const isSurface = (s: Step | undefined): boolean =>
  s !== undefined && "surface" in s && s.surface === true && !("wall" in s && s.wall !== null && s.wall !== 0);

/** The step that a profile is drawn in or taken from; none for a quick section. */
export function profileSource(profile: Profile): string | null {
  return isQuick(profile) ? null : profile.step;
}
