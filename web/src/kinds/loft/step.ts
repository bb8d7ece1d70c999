import type { StepOf } from "../../api/types";

export type LoftStep = StepOf<"loft">;
export type LoftSection = LoftStep["sections"][number];
export type QuickOnPlane = Extract<LoftSection, { by: "quick" }>;
export type PointAtEnd = Extract<LoftSection, { by: "point" }>;
