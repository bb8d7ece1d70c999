import type { StepOf } from "../../api/types";

export type ExtrudeStep = StepOf<"extrude">;
