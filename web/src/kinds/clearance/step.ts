import type { StepOf } from "../../api/types";

export type ClearanceStep = StepOf<"clearance">;
