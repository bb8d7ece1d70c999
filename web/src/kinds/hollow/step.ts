import type { StepOf } from "../../api/types";

export type HollowStep = StepOf<"hollow">;
