import type { StepOf } from "../../api/types";

export type CombinedStep = StepOf<"combined">;
