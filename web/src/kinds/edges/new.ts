/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { EdgesStep } from "./step";
import { beginning } from "../../state/beginning";

/** An edge of a body as a path. */
export function newEdges(part: Part, edge: EdgesStep["edges"][number]): EdgesStep {
  return { ...beginning(part, "edges", "Edge path"), edges: [edge] };
}
