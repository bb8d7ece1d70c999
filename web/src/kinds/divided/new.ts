/** A new step of this kind, as it is to begin with. */
import type { BuildData, Part } from "../../api/types";
import { ownersOfBodies } from "../../state/bodies";
import { givesOf } from "../../state/fields";
import { beginning } from "../../state/beginning";
import type { DividedStep } from "./step";

/** The selected body, or the last one, by the selected plane, else by one through the origin. */
export function newDivided(part: Part, result: BuildData | null, selected: string | null): DividedStep | null {
  const body = ownersOfBodies(part, result, selected).at(-1);
  if (body === undefined) return null;
  const plane = part.steps.find((s) => s.id === selected && givesOf(s) === "plane");
  return {
    ...beginning(part, "divided", "Split"),
    body: body.id,
    cut: {
      by: "plane",
      plane: plane === undefined ? { kind: "principal", plane: "YZ" } : { kind: "step", step: plane.id },
    },
  };
}
