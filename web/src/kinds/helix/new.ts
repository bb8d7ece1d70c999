/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { HelixStep } from "./step";
import { freshId, freshName } from "../../state/part";

export function newHelix(part: Part): HelixStep {
  return {
    id: freshId(part, "helix"),
    name: freshName(part, "Helix"),
    off: false,
    kind: "helix",
    plane: { kind: "principal", plane: "XY" },
    end_radius: null,
    pitch_table: null,
    starts: 1,
    radius: 20,
    pitch: 15,
    turns: 3,
    height: null,
    start_angle: 0,
    hand: "right",
  };
}
