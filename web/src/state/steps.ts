/** New steps and edits of the step list, as pure functions of the part. */
import type { DatumStep, Part, PlaneStep, Sketch, SketchStep, Step, SweepStep } from "../api/types";
import { freshId, freshName } from "./part";
import { givesOf } from "./fields";
import { isOwnPath } from "./paths";
import { sketchUse } from "./roles";
import { bringFor, quickSection } from "./sweeps";
import { PLAIN } from "./sweeps";

const EMPTY: Sketch = { points: [], entities: [], constraints: [], dimensions: [], projections: [] };

/** Put a step where the sinker hangs, or at the end; the sinker moves on with it. */
export function insertStep(part: Part, step: Step): Part {
  if (part.sinker === null) return { ...part, steps: [...part.steps, step] };
  const at = part.steps.findIndex((s) => s.id === part.sinker) + 1;
  return { ...part, steps: [...part.steps.slice(0, at), step, ...part.steps.slice(at)], sinker: step.id };
}

export function newSketch(part: Part, plane: SketchStep["plane"], stem = "Sketch"): SketchStep {
  return { id: freshId(part, "sketch"), name: freshName(part, stem), off: false, kind: "sketch", plane, sketch: EMPTY };
}

export function newPlane(part: Part, path: string, place: PlaneStep["place"] = "start"): PlaneStep {
  return {
    id: freshId(part, "plane"), name: freshName(part, "Plane square to path"), off: false, kind: "plane",
    path: { step: path, curves: null }, place, value: 0,
  };
}

/** Where a new datum plane most likely stands, from what is selected, picked and drawn; null when there is nothing for it. */
export function newDatum(part: Part, by: DatumStep["how"]["by"], selected: string | null, face: string | null): DatumStep | null {
  const planes = part.steps.filter((s) => givesOf(s) === "plane");
  const chosen = part.steps.find((s) => s.id === selected);
  const sketches = part.steps.filter((s) => s.kind === "sketch");
  const sketch = chosen?.kind === "sketch" ? chosen : sketches.at(-1);
  const asRef = (s: Step | undefined) => (s === undefined ? { kind: "principal", plane: "XY" } as const : { kind: "step", step: s.id } as const);
  const own = planes.find((s) => s.id === selected);
  const how = ((): DatumStep["how"] | null => {
    if (by === "offset") return { by, plane: own !== undefined ? asRef(own) : sketch?.kind === "sketch" ? sketch.plane : asRef(planes.at(-1)), distance: 20 };
    if (by === "normal") return { by, x: 0, y: 0, z: 0, normal: [0, 0, 1], along: null };
    if (by === "angle") return { by, plane: own !== undefined ? asRef(own) : sketch?.kind === "sketch" ? sketch.plane : asRef(planes.at(-1)), axis: "x", angle: 30 };
    if (by === "midway") return { by, first: { kind: "principal", plane: "XY" }, second: asRef(own ?? planes.at(-1)) };
    if (by === "face") return face === null ? null : { by, step: face.split("/")[0]!, face };
    if (sketch?.kind !== "sketch") return null;
    if (by === "points") {
      const points = sketch.sketch.points.slice(0, 3).map((p) => ({ step: sketch.id, point: p.id }));
      return points.length === 3 ? { by, points } : null;
    }
    const line = sketch.sketch.entities.find((e) => e.kind === "line");
    return line === undefined ? null : { by, step: sketch.id, line: line.id, angle: "90 deg" };
  })();
  if (how === null) return null;
  return { id: freshId(part, "datum"), name: freshName(part, DATUM_NAMES[by]), off: false, kind: "datum", how };
}

const DATUM_NAMES: Record<DatumStep["how"]["by"], string> = {
  offset: "Plane beside", points: "Plane through points", line: "Plane about a line", midway: "Plane midway", face: "Plane on a face", normal: "Plane by its normal", angle: "Plane turned",
};

export function newSweep(part: Part, path: string, profile: string): SweepStep {
  return {
    id: freshId(part, "sweep"), name: freshName(part, "Sweep"), path: { step: path, curves: null },
    ...PLAIN, profile: { step: profile, regions: null }, bring: bringFor(part, path, profile),
  };
}

/** A circle tied to the path, as a section to begin with. */
export function roundProfile(path: string, diameter: number): Sketch {
  return {
    points: [{ id: "p1", x: 0, y: 0 }],
    entities: [{ kind: "circle", id: "e1", center: "p1", radius: diameter / 2, construction: false }],
    constraints: [{ id: "k1", kind: "on_path", items: ["p1"], path }],
    dimensions: [{ id: "d1", kind: "diameter", items: ["e1"], value: diameter, driving: true, at: null, side: "near" as const }],
    projections: [],
  };
}

/** Plane at the path's start, round section on it, and the sweep: three steps in one go. */
export function roundAlong(part: Part, path: string, diameter: number): { part: Part; sweep: string; profile: string } {
  const plane = newPlane(part, path);
  let next = insertStep(part, plane);
  const profile = { ...newSketch(next, { kind: "step", step: plane.id }, "Round section"), sketch: roundProfile(path, diameter) };
  next = insertStep(next, profile);
  const sweep = newSweep(next, path, profile.id);
  return { part: insertStep(next, sweep), sweep: sweep.id, profile: profile.id };
}

/** A section that needs no sketch, along a path. */
export function quickAlong(part: Part, path: string, diameter: number): SweepStep {
  return { ...newSweep(part, path, path), profile: quickSection("round", diameter), bring: null };
}

/** The path and profile that a new sweep most likely means, from what is selected and drawn. */
export function likelySources(part: Part, selected: string | null): { path: string | null; profile: string | null } {
  const sketches = part.steps.filter((s) => s.kind === "sketch" && s.sketch.entities.length > 0);
  const planePaths = part.steps.filter((s) => s.kind === "plane").map((s) => s.path.step);
  const onSquare = sketches.filter((s) => s.kind === "sketch" && s.plane.kind === "step" && sketchUse(s).profile);
  const closed = sketches.filter((s) => sketchUse(s).profile);
  const chosen = sketches.find((s) => s.id === selected);
  const profile = chosen && onSquare.includes(chosen) ? chosen.id : (onSquare.at(-1) ?? closed.at(-1))?.id ?? null;
  const plane = part.steps.find((s) => s.id === profile);
  const square = plane?.kind === "sketch" && plane.plane.kind === "step" ? plane.plane.step : null;
  const via = part.steps.find((s) => s.id === square);
  const own = part.steps.filter(isOwnPath);
  const path = (via?.kind === "plane" ? via.path.step : null) ?? own.find((s) => s.id === selected)?.id ?? planePaths.at(-1) ?? own.at(-1)?.id
    ?? sketches.filter((s) => s.id !== profile && !sketchUse(s).profile).at(-1)?.id
    ?? sketches.filter((s) => s.id !== profile).at(-1)?.id ?? null;
  const flat = (chosen && sketchUse(chosen).both ? chosen : undefined) ?? (sketches.length === 1 ? sketches.find((s) => sketchUse(s).both) : undefined);
  if (flat !== undefined) return { path: flat.id, profile: flat.id };
  return { path, profile: profile === path ? null : profile };
}

/** Delete a step; the sinker hangs on to the one above. */
export function removeStep(part: Part, id: string): Part {
  const at = part.steps.findIndex((s) => s.id === id);
  const above = part.steps[at - 1]?.id ?? null;
  const colours = Object.fromEntries(Object.entries(part.colours).filter(([step]) => step !== id));
  return { ...part, steps: part.steps.filter((s) => s.id !== id), sinker: part.sinker === id ? above : part.sinker, colours };
}

/** Move a step up or down by one, where what it uses and what uses it allow. */
export function canMove(part: Part, id: string, by: -1 | 1, uses: (step: Step) => string[]): boolean {
  const at = part.steps.findIndex((s) => s.id === id);
  const other = part.steps[at + by];
  const step = part.steps[at];
  if (other === undefined || step === undefined) return false;
  return by < 0 ? !uses(step).includes(other.id) : !uses(other).includes(id);
}

export function moveStep(part: Part, id: string, by: -1 | 1): Part {
  const at = part.steps.findIndex((s) => s.id === id);
  const steps = [...part.steps];
  const [step] = steps.splice(at, 1);
  steps.splice(at + by, 0, step!);
  return { ...part, steps };
}
