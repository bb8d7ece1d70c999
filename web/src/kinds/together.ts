/** What is made of several kinds of step in one go. */
import type { Part, Sketch, Step } from "../api/types";
import { insertStep } from "../state/steps";
import { isDrawn } from "../state/drawings";
import { givesOf } from "../state/fields";
import { isOwnPath } from "../state/paths";
import { sketchUse } from "../state/roles";
import { datumWith, newDatum } from "./datum/new";
import { newDerived } from "./derived/new";
import { loftThrough, quickOn } from "./loft/new";
import { newPlane } from "./plane/new";
import { newSketch } from "./sketch/new";
import { newSweep } from "./sweep/new";

/** A circle tied to the path, as a section to begin with. */
function roundProfile(path: string, diameter: number): Sketch {
  return {
    points: [{ id: "p1", x: 0, y: 0 }],
    entities: [{ kind: "circle", id: "e1", center: "p1", radius: diameter / 2, construction: false }],
    constraints: [{ id: "k1", kind: "on_path", items: ["p1"], path }],
    dimensions: [{ id: "d1", kind: "diameter", items: ["e1"], value: diameter, driving: true, at: null, side: "near" }],
    projections: [],
  };
}

/** Plane at the path's start, round section on it, and the sweep. */
export function roundAlong(part: Part, path: string, diameter: number): { part: Part; sweep: string } {
  const plane = newPlane(part, path);
  let next = insertStep(part, plane);
  const profile = {
    ...newSketch(next, { kind: "step", step: plane.id }, "Round section"),
    sketch: roundProfile(path, diameter),
  };
  next = insertStep(next, profile);
  const sweep = newSweep(next, path, profile.id);
  return { part: insertStep(next, sweep), sweep: sweep.id };
}

/** A plane on a face of a body, and a sketch on it. */
export function sketchOnFace(part: Part, face: string): Step[] {
  const plane = newDatum(part, "face", null, face);
  return plane === null ? [] : [plane, newSketch(part, { kind: "step", step: plane.id })];
}

/**
 * A copy of a plane, a path or a drawing, carried to the middle of the last other path; a drawing on a plane that is
 * carried there.
 */
export function copyAlong(part: Part, selected: string | null): Step[] {
  const source = part.steps.find((s) => s.id === selected);
  const way = part.steps.filter((s) => s.id !== selected && (isOwnPath(s) || isOpenDrawing(s))).at(-1);
  if (source === undefined || way === undefined) return [];
  const how = { by: "along" as const, along: { step: way.id, curves: null }, at: "50%", held: false, turn: 0 };
  if (givesOf(source) === "plane") return [datumWith(part, { ...how, plane: { kind: "step", step: source.id } })];
  if (isOwnPath(source)) return [{ ...newDerived(part, "along", source.id), how }];
  if (!isDrawn(source)) return [];
  const plane = datumWith(part, { ...how, plane: source.plane });
  const shown = newSketch(insertStep(part, plane), { kind: "step", step: plane.id }, source.name);
  return [plane, { ...shown, same_as: source.id }];
}

const isOpenDrawing = (step: Step) => sketchUse(step).path && !sketchUse(step).profile;

/** A rectangle that goes over into a circle on a plane beside it. */
export function plainLoft(part: Part): Step[] {
  const made = newDatum(part, "offset", null, null);
  if (made === null || made.how.by !== "offset") return [];
  const beside = { ...made, how: { ...made.how, distance: 40 } };
  const sections = [
    quickOn(beside.how.plane, "rectangle", 40, 24),
    quickOn({ kind: "step", step: beside.id }, "round", 20),
  ];
  return [beside, loftThrough(part, sections)];
}
