import type { StepOf } from "../../api/types";

export type CrossingStep = StepOf<"crossing">;
