import type { StepOf } from "../../api/types";

export type ArrangedStep = StepOf<"arranged">;
