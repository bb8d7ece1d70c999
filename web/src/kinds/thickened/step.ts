import type { StepOf } from "../../api/types";

export type ThickenedStep = StepOf<"thickened">;
