/** What the commands do to the part, with the selection in mind. */
import type { DatumStep, Part, Step } from "../api/types";
import { usePart } from "../state/part";
import { sketchUse } from "../state/roles";
import { insertStep, likelySources, newDatum, newExtrude, newPlane, newSketch, newSweep, roundAlong } from "../state/steps";
import { useView } from "../state/view";
import { openLocker } from "../locker/openLocker";

const FIRST_DIAMETER = 20;

function add(label: string, make: (part: Part) => Step | null): string | null {
  const { document, change, say } = usePart.getState();
  if (document === null) return null;
  const step = make(document);
  if (step === null) {
    say({ level: "note", code: "missing-source", text: `${label} needs something to work on first.`, way_out: "Draw a path and a profile, then try again.", place: {} });
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
  if (chosen?.kind === "sketch" && sketchUse(chosen).path) return chosen.id;
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

export function addExtrude(): void {
  const { selected } = useView.getState();
  add("Add an extrusion", (p) => {
    const closed = p.steps.filter((s) => sketchUse(s).profile);
    const profile = closed.find((s) => s.id === selected) ?? closed.at(-1);
    return profile === undefined ? null : newExtrude(p, profile.id);
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
