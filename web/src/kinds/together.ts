/** What is made of several kinds of step in one go. */
import type { Part, Sketch } from "../api/types";
import { insertStep } from "../state/steps";
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
