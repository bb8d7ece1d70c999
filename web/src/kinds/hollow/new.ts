/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { isBody } from "../../state/bodies";
import { freshId, freshName } from "../../state/part";
import { faceRef } from "../../state/pickedFace";
import type { HollowStep } from "./step";

/** The selected body, or the last one, as a wall of itself. */
export function newHollow(part: Part, selected: string | null, face: string | null): HollowStep | null {
  const bodies = part.steps.filter(isBody);
  const body = bodies.find((s) => s.id === selected) ?? bodies.at(-1);
  if (body === undefined) return null;
  const opened = face !== null && face.startsWith(`${body.id}/`) ? [faceRef(face)] : [];
  return {
    id: freshId(part, "hollow"),
    name: freshName(part, "Hollow"),
    off: false,
    kind: "hollow",
    body: body.id,
    wall: 2,
    side: "inward",
    opened,
    walls: [],
  };
}
