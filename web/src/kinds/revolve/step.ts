import type { StepOf } from "../../api/types";

export type RevolveStep = StepOf<"revolve">;
