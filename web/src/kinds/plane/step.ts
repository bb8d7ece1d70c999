import type { StepOf } from "../../api/types";

export type NormalPlane = StepOf<"plane">;
