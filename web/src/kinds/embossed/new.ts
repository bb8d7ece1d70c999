/** A new step of this kind, as it is to begin with. */
import type { BuildData, Part } from "../../api/types";
import { ownersOfBodies } from "../../state/bodies";
import { beginning } from "../../state/beginning";
import type { EmbossedStep } from "./step";

/** A closed sketch raised on the selected body, or the last one that the sketch was not drawn for. */
export function newEmbossed(
  part: Part,
  result: BuildData | null,
  selected: string | null,
  profile: string,
): EmbossedStep | null {
  const body = ownersOfBodies(part, result, selected).at(-1);
  if (body === undefined) return null;
  return {
    ...beginning(part, "embossed", "Raised area"),
    body: body.id,
    profile: { step: profile, regions: null },
    height: 1,
  };
}
