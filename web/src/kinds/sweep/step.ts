import type { StepOf } from "../../api/types";

export type SweepStep = StepOf<"sweep">;
