import type { StepOf } from "../../api/types";

export type PlacedStep = StepOf<"placed">;
