import type { StepOf } from "../../api/types";

export type DividedStep = StepOf<"divided">;
