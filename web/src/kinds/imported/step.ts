import type { StepOf } from "../../api/types";

export type ImportedStep = StepOf<"imported">;
