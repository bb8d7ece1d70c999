/** What the screen has to know of a sheet. */
import type { ComponentType } from "react";
import type { StepReport } from "../api/types";

export interface SheetRoom {
  /** As the server calls it. */
  name: string;
  title: string;
  /** Whether a step has such a sheet, by what its last build gave. */
  fits: (report: StepReport) => boolean;
  /** What is told of it under the step's cards, where the step's own foot does not tell it. */
  Short?: ComponentType<{ report: StepReport }>;
}
