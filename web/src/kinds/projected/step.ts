import type { StepOf } from "../../api/types";

export type ProjectedStep = StepOf<"projected">;
