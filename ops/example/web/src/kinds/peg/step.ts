import type { StepOf } from "../../api/types";

export type PegStep = StepOf<"peg">;
