import type { Draft } from "../../slip/draft";
import type { SweepStep } from "./step";

/** What every card of a sweep is given. */
export interface Shared {
  step: SweepStep;
  draft: Draft<SweepStep>;
}
