/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { ExtrudeStep } from "./step";
import { beginning } from "../../state/beginning";

export function newExtrude(part: Part, profile: string): ExtrudeStep {
  return { ...beginning(part, "extrude", "Extrude"), profile: { step: profile, regions: null }, length: 20 };
}
