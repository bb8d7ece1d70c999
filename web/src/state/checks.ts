/** Clearance of a path to bodies: new steps, and what is known of a path. */
import type { BuildData, ClearanceStep, ClearData, Part, Units } from "../api/types";
import { length } from "../ui/format";

export interface Clear {
  step: ClearanceStep;
  data: ClearData;
}

/** What clearance steps know of a step: of itself, if it is one, or of the path that it gives or follows. */
export function clearancesFor(part: Part, result: BuildData | null, id: string | null): Clear[] {
  const own = part.steps.find((s) => s.id === id);
  const paths = own === undefined ? [] : own.kind === "sweep" ? [own.id, own.path.step] : [own.id];
  return part.steps.flatMap((step) => {
    const data = result?.steps[step.id]?.data.clear;
    return step.kind === "clearance" && data !== undefined && (step.id === id || paths.includes(step.path.step)) ? [{ step, data }] : [];
  });
}

/** The least clearance in words, as short as they go. */
export function clearWords(clear: ClearData, units: Units, digits = 4): string {
  const name = clear.bodies[clear.nearest] ?? "";
  if (clear.least === 0) return `touches ${name}`;
  return clear.least < 0 ? `${length(-clear.least, units, digits)} into ${name}` : `${length(clear.least, units, digits)} to ${name}`;
}
