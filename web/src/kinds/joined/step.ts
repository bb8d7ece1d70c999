import type { StepOf } from "../../api/types";

export type JoinedStep = StepOf<"joined">;
