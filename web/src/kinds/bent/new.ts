/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { isAlong, pathOf } from "../../state/bodies";
import { freshId, freshName } from "../../state/part";
import type { BentStep } from "./step";

/** For the selected sweep, or the one along the selected path. */
export function newBent(part: Part, selected: string): BentStep | null {
  const tube = part.steps.find((s) => isAlong(s) && (s.id === selected || pathOf(s) === selected));
  if (tube === undefined) return null;
  return {
    id: freshId(part, "bent"),
    name: freshName(part, "Bending"),
    off: false,
    kind: "bent",
    tube: tube.id,
    flipped: false,
    fixed: 0,
    share: 0,
    growth: 0,
    tests: [],
    stretch: 0,
    trim_start: 0,
    trim_end: 0,
    clamp: null,
    grip: null,
    longest_feed: null,
    stock: null,
    count: 1,
    kerf: 0,
    oval: 0.05,
    machine: null,
    own_machine: null,
    long_turns: [],
    corrections: [],
    tolerance: 1,
    tooling: [],
  };
}
