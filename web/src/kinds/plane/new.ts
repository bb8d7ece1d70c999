/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { beginning } from "../../state/beginning";
import type { NormalPlane } from "./step";

export function newPlane(part: Part, path: string, place: NormalPlane["place"] = "start"): NormalPlane {
  return { ...beginning(part, "plane", "Plane square to path"), path: { step: path, curves: null }, place };
}
