/** What the commands do to the part, with the selection in mind. */
import type { DatumStep } from "../api/types";
import { openLocker } from "../locker/openLocker";
import { givesOf } from "../state/fields";
import { usePart } from "../state/part";
import { newPlain } from "../state/plain";
import { likelySources, newDatum, newPlane, newSketch, newSweep, quickAlong, roundAlong } from "../state/steps";
import { useView } from "../state/view";
import { add, addOnPath, pathFor } from "./add";

const FIRST_DIAMETER = 20;

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
    const planes = p.steps.filter((s) => givesOf(s) === "plane");
    const plane = planes.find((s) => s.id === selected) ?? planes.at(-1);
    return plane === undefined ? null : newSketch(p, { kind: "step", step: plane.id }, "Profile");
  });
  if (id !== null) useView.getState().sketch(id);
}

export function addPlane(): void {
  addOnPath("Add a plane square to the path", newPlane);
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

/** A step of a kind that has no command of its own. */
export function addPlain(kind: string): void {
  add(`Add a ${kind}`, (p) => newPlain(p, kind));
}

export function addQuickAlong(): void {
  addOnPath("Quick section along the path", (p, path) => quickAlong(p, path, FIRST_DIAMETER));
}

export function addRoundAlong(): void {
  const { document, change } = usePart.getState();
  const path = document === null ? null : pathFor(document, useView.getState().selected);
  if (document === null || path === null) return;
  const made = roundAlong(document, path, FIRST_DIAMETER);
  void change("Round section along the path", () => made.part);
  useView.getState().select(made.sweep);
}
