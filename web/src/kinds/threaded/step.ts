import type { StepOf } from "../../api/types";

export type ThreadedStep = StepOf<"threaded">;
