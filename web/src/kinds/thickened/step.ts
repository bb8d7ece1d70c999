import type { Step, StepOf } from "../../api/types";

export type ThickenedStep = StepOf<"thickened">;

/** Whether a step's result is a surface without thickness. */
export const isSurface = (s: Step): boolean =>
  "surface" in s && s.surface === true && !("wall" in s && s.wall !== null && s.wall !== 0);
