/** What the commands do to the part, with the selection in mind. */
import type { CurveStep, DatumStep, DerivedStep, Part, Step } from "../api/types";
import { newClearance } from "../state/checks";
import { usePart } from "../state/part";
import { isOwnPath, newCrossing, newCurve, newDerived, newEdges, newHose, newJoined, newProjected, newRoute, newWound } from "../state/paths";
import { newPlain } from "../state/plain";
import { newRepeat } from "../state/repeats";
import { isBody } from "../state/sweeps";
import { sketchUse, threads } from "../state/roles";
import { insertStep, likelySources, newDatum, newExtrude, newHelix, newPlane, newRevolve, newSketch, newSweep, quickAlong, roundAlong } from "../state/steps";
import { startingHose, startingSpring, startingThread, startingTube } from "../state/starts";
import { useView } from "../state/view";
import { openLocker } from "../locker/openLocker";

const FIRST_DIAMETER = 20;

function add(label: string, make: (part: Part) => Step | null): string | null {
  const { document, change, say } = usePart.getState();
  if (document === null) return null;
  const step = make(document);
  if (step === null) {
    say({ level: "note", code: "missing-source", text: `${label} needs something to work on first.`, way_out: "Draw what it is made of, then try again.", place: {} });
    return null;
  }
  say(null);
  void change(label, (p) => insertStep(p, step));
  useView.getState().select(step.id);
  return step.id;
}

export function startPath(plane: "XY" | "XZ" | "YZ"): void {
  const id = add("Add a path sketch", (p) => newSketch(p, { kind: "principal", plane }, "Path"));
  if (id !== null) useView.getState().sketch(id);
}

/** Several steps as one change; the last of them is selected. */
function begin(label: string, make: (part: Part) => Step[]): void {
  const { document, change, say } = usePart.getState();
  if (document === null) return;
  say(null);
  const steps = make(document);
  void change(label, (p) => steps.reduce(insertStep, p));
  useView.getState().select(steps.at(-1)!.id);
}

export const startTube = () => begin("Begin with a tube", startingTube);
export const startHose = () => begin("Begin with a hose", startingHose);
export const startSpring = () => begin("Begin with a spring", startingSpring);
export const startThread = () => begin("Begin with a thread", startingThread);

export function startBlank(): void {
  openLocker();
}

export function addSketchOn(plane: "XY" | "XZ" | "YZ"): void {
  const id = add("Add a sketch", (p) => newSketch(p, { kind: "principal", plane }));
  if (id !== null) useView.getState().sketch(id);
}

/** A sketch on the selected plane, or on the last one. */
export function addProfile(): void {
  const { selected } = useView.getState();
  const id = add("Add a profile", (p) => {
    const planes = p.steps.filter((s) => s.kind === "plane" || s.kind === "datum");
    const plane = planes.find((s) => s.id === selected) ?? planes.at(-1);
    return plane === undefined ? null : newSketch(p, { kind: "step", step: plane.id }, "Profile");
  });
  if (id !== null) useView.getState().sketch(id);
}

/** The path that a command means: the selected sketch, or the last that is drawn. */
export function pathFor(part: Part, selected: string | null): string | null {
  const chosen = part.steps.find((s) => s.id === selected);
  if (chosen !== undefined && (isOwnPath(chosen) || chosen.kind === "sweep" || sketchUse(chosen).path)) return chosen.id;
  return likelySources(part, null).path ?? part.steps.filter((s) => sketchUse(s).path).at(-1)?.id ?? null;
}

export function addPlane(): void {
  const { selected } = useView.getState();
  add("Add a plane square to the path", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newPlane(p, path);
  });
}

export function addDatum(by: DatumStep["how"]["by"]): void {
  const { selected, face } = useView.getState();
  add("Add a plane", (p) => newDatum(p, by, selected, face));
}

export function addSweep(): void {
  const { selected } = useView.getState();
  add("Add a sweep", (p) => {
    const { path, profile } = likelySources(p, selected);
    return path === null || profile === null ? null : newSweep(p, path, profile);
  });
}

/** The selected closed sketch, or the last one. */
function profileFor(part: Part): string | null {
  const closed = part.steps.filter((s) => sketchUse(s).profile);
  return (closed.find((s) => s.id === useView.getState().selected) ?? closed.at(-1))?.id ?? null;
}

export function addExtrude(): void {
  add("Add an extrusion", (p) => {
    const selected = p.steps.find((s) => s.id === useView.getState().selected);
    const open = selected?.kind === "sketch" && sketchUse(selected).path && !sketchUse(selected).profile;
    const profile = open ? selected.id : profileFor(p);
    return profile === null ? null : { ...newExtrude(p, profile), surface: open };
  });
}

export function addRevolve(): void {
  add("Add a revolved body", (p) => {
    const profile = profileFor(p);
    return profile === null ? null : newRevolve(p, profile);
  });
}

export function addCurve(by: CurveStep["shape"]["by"]): void {
  add("Add a curve in space", (p) => newCurve(p, by));
}

/** A step of a kind that has no command of its own. */
export function addPlain(kind: string): void {
  add(`Add a ${kind}`, (p) => newPlain(p, kind));
}

export function addHelix(): void {
  add("Add a helix", newHelix);
}

export function addRoute(): void {
  const { selected } = useView.getState();
  add("Add a path through points", (p) => newRoute(p, selected));
}

export function addJoined(): void {
  add("Add a joined path", (p) => newJoined(p, new Set(threads(p).map((t) => t.to))));
}

export function addHose(): void {
  add("Add a hose", newHose);
}

export function addWound(): void {
  const { selected } = useView.getState();
  add("Add a wound path", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newWound(p, path, usePart.getState().result);
  });
}

export function addDerived(by: DerivedStep["how"]["by"]): void {
  const { selected } = useView.getState();
  add("Add a path from another", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newDerived(p, by, path);
  });
}

/** Waits for an edge in the stage, then makes a path of it. */
export function addEdges(): void {
  const { document, say } = usePart.getState();
  if (!document?.steps.some(isBody)) {
    say({ level: "note", code: "missing-source", text: "A path of edges needs a body first.", way_out: "Sweep, extrude or revolve one, then try again.", place: {} });
    return;
  }
  say({ level: "note", code: "pick-edge", text: "Click the edge that the path is to follow.", way_out: "Esc leaves it.", place: {} });
  useView.getState().set({ pick: { want: "edge", before: null, label: "Pick the first edge", take: (step, edge) => {
    useView.getState().set({ pick: null });
    add("Add a path along edges", (p) => newEdges(p, step, edge));
  } } });
}

export function addCrossing(): void {
  add("Add the crossing of two surfaces", newCrossing);
}

export function addProjected(): void {
  const { selected } = useView.getState();
  add("Lay a path onto a surface", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newProjected(p, path);
  });
}

export function addRepeat(): void {
  const { selected } = useView.getState();
  add("Add copies along a path", (p) => newRepeat(p, selected));
}

export function addClearance(): void {
  const { selected } = useView.getState();
  add("Measure a clearance", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newClearance(p, path);
  });
}

export function addQuickAlong(): void {
  const { selected } = useView.getState();
  add("Quick section along the path", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : quickAlong(p, path, FIRST_DIAMETER);
  });
}

export function addRoundAlong(): void {
  const { document, change } = usePart.getState();
  const path = document === null ? null : pathFor(document, useView.getState().selected);
  if (document === null || path === null) return;
  const made = roundAlong(document, path, FIRST_DIAMETER);
  void change("Round section along the path", () => made.part);
  useView.getState().select(made.sweep);
}
