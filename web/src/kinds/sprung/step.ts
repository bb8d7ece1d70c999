import type { StepOf } from "../../api/types";

export type SprungStep = StepOf<"sprung">;
export type Load = NonNullable<SprungStep["loads"]>[number];
export type Duty = NonNullable<SprungStep["duty"]>;

/** A coil whose turns are alike. */
export const EVEN: Pick<SprungStep, "end_diameter" | "middle_diameter" | "pitches"> = {
  end_diameter: null,
  middle_diameter: null,
  pitches: [],
};
