/** A new step of this kind, as it is to begin with. */
import type { BuildData, Part } from "../../api/types";
import { ownersOfBodies } from "../../state/bodies";
import { givesOf } from "../../state/fields";
import { freshId, freshName } from "../../state/part";
import type { DividedStep } from "./step";

/** The selected body, or the last one, by the selected plane, or the last one there is. */
export function newDivided(part: Part, result: BuildData | null, selected: string | null): DividedStep | null {
  const body = ownersOfBodies(part, result, selected).at(-1);
  if (body === undefined) return null;
  const planes = part.steps.filter((s) => givesOf(s) === "plane");
  const plane = planes.find((s) => s.id === selected) ?? planes.at(-1);
  return {
    id: freshId(part, "divided"),
    name: freshName(part, "Split"),
    off: false,
    kind: "divided",
    body: body.id,
    cut: {
      by: "plane",
      plane: plane === undefined ? { kind: "principal", plane: "YZ" } : { kind: "step", step: plane.id },
    },
    keep: "both",
  };
}
