import type { StepOf } from "../../api/types";

export type HelixStep = StepOf<"helix">;
