import type { StepOf } from "../../api/types";

export type SketchStep = StepOf<"sketch">;
