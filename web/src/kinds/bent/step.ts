import type { StepOf } from "../../api/types";

export type BentStep = StepOf<"bent">;
