/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { ExtrudeStep } from "./step";
import { freshId, freshName } from "../../state/part";

export function newExtrude(part: Part, profile: string): ExtrudeStep {
  return {
    id: freshId(part, "extrude"),
    name: freshName(part, "Extrude"),
    off: false,
    kind: "extrude",
    profile: { step: profile, regions: null },
    length: 20,
    back: 0,
    until: null,
    taper: 0,
    surface: false,
    result: "separate",
  };
}
