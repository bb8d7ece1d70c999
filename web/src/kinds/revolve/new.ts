/** A new step of this kind, as it is to begin with. */
import type { Part, RevolveStep } from "../../api/types";
import { freshId, freshName } from "../../state/part";

/** A profile carried round a construction line of its sketch, or the sketch's y axis. */
export function newRevolve(part: Part, profile: string): RevolveStep {
  const sketch = part.steps.find((s) => s.id === profile);
  const line = sketch?.kind === "sketch" ? sketch.sketch.entities.find((e) => e.kind === "line" && e.construction) : undefined;
  return {
    id: freshId(part, "revolve"), name: freshName(part, "Revolve"), off: false, kind: "revolve",
    profile: { step: profile, regions: null }, axis: line?.id ?? "y", angle: "360 deg", result: "separate",
  };
}
