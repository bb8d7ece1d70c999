/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { faceRef } from "../../state/pickedFace";
import { beginning } from "../../state/beginning";
import type { ThreadedStep } from "./step";

export function newThreaded(part: Part, face: string): ThreadedStep {
  return { ...beginning(part, "threaded", "Thread"), face: faceRef(face), rounded: true };
}
