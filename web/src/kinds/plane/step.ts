import type { StepOf } from "../../api/types";

export type PlaneStep = StepOf<"plane">;
