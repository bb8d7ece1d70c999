import type { StepOf } from "../../api/types";

export type HoseStep = StepOf<"hose">;
export type HosePoint = HoseStep["points"][number];
export type Port = HoseStep["start"];
