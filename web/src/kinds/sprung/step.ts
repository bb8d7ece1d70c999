import type { StepOf } from "../../api/types";

export type SprungStep = StepOf<"sprung">;
export type Load = NonNullable<SprungStep["loads"]>[number];
export type Duty = NonNullable<SprungStep["duty"]>;
