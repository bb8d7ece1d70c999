import type { StepOf } from "../../api/types";

export type DatumPlane = StepOf<"datum">;
