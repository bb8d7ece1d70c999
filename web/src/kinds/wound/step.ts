import type { StepOf } from "../../api/types";

export type WoundStep = StepOf<"wound">;
