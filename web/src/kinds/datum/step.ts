import type { StepOf } from "../../api/types";

export type DatumStep = StepOf<"datum">;
