import type { StepOf } from "../../api/types";

export type EmbossedStep = StepOf<"embossed">;
