/** Steps that are drawn in the sketcher, and what is known of what is drawn. */
import type { DrawnData, DrawnStep, Part, Shown, Sketch, Step } from "../api/types";
import { pathOf } from "./bodies";
import { givesOf } from "./fields";
import { stepOf, usePart, withStep } from "./part";

export const isDrawn = (step: Step | undefined): step is DrawnStep => givesOf(step) === "drawing";

/** Whether a drawing is solved and its plane is known. */
export const isSolved = (shown: Shown | undefined): shown is DrawnData =>
  shown?.sketch !== undefined && shown.plane !== undefined && shown.curves !== undefined;

/** The step that a drawing is drawn in: itself, or the sketch that it shows on another plane. */
export function sourceOf(step: DrawnStep): DrawnStep {
  const seen = new Set([step.id]);
  let source = step;
  while (source.same_as) {
    const next = stepOf(usePart.getState().document, source.same_as);
    if (!isDrawn(next) || seen.has(next.id)) return source;
    seen.add(next.id);
    source = next;
  }
  return source;
}

/** What is drawn in a step, there or in the sketch that it shows. */
export const sketchOf = (step: DrawnStep): Sketch => sourceOf(step).sketch;

export const withSketch = (part: Part, step: string, sketch: Sketch): Part =>
  withStep<DrawnStep>(part, step, (s) => ({ ...s, sketch }));

/** The step whose plane a drawing stands on; none on a principal plane. */
export const planeStepOf = (step: DrawnStep): string | null => (step.plane.kind === "step" ? step.plane.step : null);

/** The path that a drawing's plane stands square to, if it does. */
export function carrierOf(part: Part, step: DrawnStep): string | null {
  const plane = part.steps.find((s) => s.id === planeStepOf(step));
  return plane === undefined ? null : (pathOf(plane) ?? null);
}
