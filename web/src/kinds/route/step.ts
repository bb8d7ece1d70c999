import type { StepOf } from "../../api/types";

export type RouteStep = StepOf<"route">;
export type RoutePoint = RouteStep["points"][number];
