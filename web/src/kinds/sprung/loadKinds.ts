/** Loads of a spring: by a length or a force, of a torsion spring by an angle or a moment. */
import type { Expression } from "../../api/types";
import { unusedId } from "../../state/part";
import { EVEN, type Duty, type Load, type SprungStep } from "./step";

export type LoadBy = Load["by"];

export const loadWays = (duty: Duty): { value: LoadBy; label: string }[] =>
  duty === "torsion"
    ? [
        { value: "angle", label: "Angle" },
        { value: "force", label: "Moment" },
      ]
    : [
        { value: "length", label: "Length" },
        { value: "force", label: "Force" },
      ];

export const valueOf = (load: Load): Expression =>
  load.by === "length" ? load.length : load.by === "angle" ? load.angle : load.force;

export function loadOf(id: string, by: LoadBy, value: Expression): Load {
  if (by === "length") return { id, by, length: value };
  return by === "angle" ? { id, by, angle: value } : { id, by, force: value };
}

export const freshLoad = (loads: Load[]): string =>
  unusedId(
    loads.map((l) => ({ id: l.id })),
    "load",
  );

/** A spring that does something else has other loads. */
export function dutyChanged(step: SprungStep, duty: Duty): Partial<SprungStep> {
  const kept = loadWays(duty).map((w) => w.value);
  return { duty, loads: step.loads.filter((l) => l.by !== "force" && kept.includes(l.by)), shown_under: null, ...EVEN };
}
