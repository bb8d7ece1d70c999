import type { StepOf } from "../../api/types";

export type EdgesStep = StepOf<"edges">;
