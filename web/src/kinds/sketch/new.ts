/** A new step of this kind, as it is to begin with. */
import type { Part, PlaneRef } from "../../api/types";
import { beginning } from "../../state/beginning";
import type { SketchStep } from "./step";

export function newSketch(part: Part, plane: PlaneRef, stem = "Sketch"): SketchStep {
  return { ...beginning(part, "sketch", stem), plane };
}
