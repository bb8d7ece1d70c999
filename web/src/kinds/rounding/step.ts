import type { StepOf } from "../../api/types";

export type RoundingStep = StepOf<"rounding">;
