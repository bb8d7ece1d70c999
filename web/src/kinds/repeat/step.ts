import type { StepOf } from "../../api/types";

export type RepeatStep = StepOf<"repeat">;
