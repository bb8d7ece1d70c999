/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { RevolveStep } from "./step";
import { beginning } from "../../state/beginning";
import { isDrawn, sketchOf } from "../../state/drawings";

/** A profile carried round a construction line of its sketch, or the sketch's y axis. */
export function newRevolve(part: Part, profile: string): RevolveStep {
  const sketch = part.steps.find((s) => s.id === profile);
  const line = isDrawn(sketch) ? sketchOf(sketch).entities.find((e) => e.kind === "line" && e.construction) : undefined;
  return { ...beginning(part, "revolve", "Revolve"), profile: { step: profile, regions: null }, axis: line?.id ?? "y" };
}
