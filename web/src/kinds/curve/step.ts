import type { StepOf } from "../../api/types";

export type CurveStep = StepOf<"curve">;
