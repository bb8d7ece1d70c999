import type { StepOf } from "../../api/types";

export type DerivedStep = StepOf<"derived">;
