/** What is known of a section that is carried along a path. */
import type { Shown, SweepData } from "../api/types";

export const isSwept = (shown: Shown | undefined): shown is SweepData =>
  shown?.lanes !== undefined && shown.section !== undefined && shown.length !== undefined;
