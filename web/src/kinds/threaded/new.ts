/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { faceRef } from "../../state/pickedFace";
import { freshId, freshName } from "../../state/part";
import type { ThreadedStep } from "./step";

export function newThreaded(part: Part, face: string): ThreadedStep {
  return {
    id: freshId(part, "threaded"),
    name: freshName(part, "Thread"),
    off: false,
    kind: "threaded",
    face: faceRef(face),
    form: "metric",
    rounded: true,
    size: null,
    pitch: null,
    own: [],
    drawn: null,
    starts: 1,
    hand: "right",
    start_angle: 0,
    flipped: false,
    offset: null,
    length: null,
    run_out: 1,
    chamfer: 0,
    relief: 0,
    relief_depth: null,
    real: true,
    tolerance: "",
    mate: "",
    made: "basic",
    friction: 0.14,
    bolt_strength: 800,
    nut_strength: 600,
  };
}
