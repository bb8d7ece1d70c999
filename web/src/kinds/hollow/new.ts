/** A new step of this kind, as it is to begin with. */
import type { BuildData, Part } from "../../api/types";
import { ownersOfBodies } from "../../state/bodies";
import { beginning } from "../../state/beginning";
import { faceRef } from "../../state/pickedFace";
import type { HollowStep } from "./step";

/** The selected body, or the last one, as a wall of itself. */
export function newHollow(
  part: Part,
  result: BuildData | null,
  selected: string | null,
  face: string | null,
): HollowStep | null {
  const owners = ownersOfBodies(part, result, selected);
  const body = owners.at(-1);
  if (body === undefined) return null;
  // a face of what was joined with it is its own
  const others = owners.some((o) => o !== body && face?.startsWith(`${o.id}/`));
  const opened = face === null || others ? [] : [faceRef(face)];
  return { ...beginning(part, "hollow", "Hollow"), body: body.id, wall: 2, opened };
}
