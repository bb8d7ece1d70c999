/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { EdgesStep } from "./step";
import { freshId, freshName } from "../../state/part";

/** An edge of a body as a path. */
export function newEdges(part: Part, edge: EdgesStep["edges"][number]): EdgesStep {
  return {
    id: freshId(part, "edges"),
    name: freshName(part, "Edge path"),
    off: false,
    kind: "edges",
    edges: [edge],
    tangent: true,
  };
}
