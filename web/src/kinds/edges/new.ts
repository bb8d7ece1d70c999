/** A new step of this kind, as it is to begin with. */
import type { EdgesStep, Part } from "../../api/types";
import { freshId, freshName } from "../../state/part";

/** An edge of a body as a path. */
export function newEdges(part: Part, step: string, edge: string): EdgesStep {
  return { id: freshId(part, "edges"), name: freshName(part, "Edge path"), off: false, kind: "edges", edges: [{ step, edge }], tangent: true };
}
