/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { freshId, freshName } from "../../state/part";
import type { NormalPlane } from "./step";

export function newPlane(part: Part, path: string, place: NormalPlane["place"] = "start"): NormalPlane {
  return {
    id: freshId(part, "plane"),
    name: freshName(part, "Plane square to path"),
    off: false,
    kind: "plane",
    path: { step: path, curves: null },
    place,
    value: 0,
  };
}
