/** Steps that are drawn in the sketcher, and what is known of what is drawn. */
import type { DrawnData, DrawnStep, Part, Shown, Sketch, Step } from "../api/types";
import { pathOf } from "./bodies";
import { givesOf } from "./fields";
import { withStep } from "./part";

export const isDrawn = (step: Step | undefined): step is DrawnStep => givesOf(step) === "drawing";

/** Whether a drawing is solved and its plane is known. */
export const isSolved = (shown: Shown | undefined): shown is DrawnData =>
  shown?.sketch !== undefined && shown.plane !== undefined && shown.curves !== undefined;

export const withSketch = (part: Part, step: string, sketch: Sketch): Part =>
  withStep<DrawnStep>(part, step, (s) => ({ ...s, sketch }));

/** The step whose plane a drawing stands on; none on a principal plane. */
export const planeStepOf = (step: DrawnStep): string | null => (step.plane.kind === "step" ? step.plane.step : null);

/** The path that a drawing's plane stands square to, if it does. */
export function carrierOf(part: Part, step: DrawnStep): string | null {
  const plane = part.steps.find((s) => s.id === planeStepOf(step));
  return plane === undefined ? null : (pathOf(plane) ?? null);
}
