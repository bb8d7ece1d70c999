/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { HelixStep } from "./step";
import { beginning } from "../../state/beginning";

export function newHelix(part: Part): HelixStep {
  return {
    ...beginning(part, "helix", "Helix"),
    plane: { kind: "principal", plane: "XY" },
    radius: 20,
    pitch: 15,
    turns: 3,
  };
}
