/** Clearance of a path to bodies: what is known of a path. */
import type { BuildData, ClearData, Part, Step, Units } from "../api/types";
import { length } from "../ui/format";
import { isBody, pathOf } from "./bodies";

export interface Clear {
  step: Step;
  data: ClearData;
}

/** What is measured of a step's clearance: by itself, if it measures, or along the path that it gives or follows. */
export function clearancesFor(part: Part, result: BuildData | null, id: string | null): Clear[] {
  const own = part.steps.find((s) => s.id === id);
  const paths = own === undefined ? [] : isBody(own) ? [own.id, pathOf(own)] : [own.id];
  return part.steps.flatMap((step) => {
    const data = result?.steps[step.id]?.data.clear;
    return data !== undefined && (step.id === id || paths.includes(pathOf(step))) ? [{ step, data }] : [];
  });
}

/** The least clearance in words, as short as they go. */
export function clearWords(clear: ClearData, units: Units, digits = 4): string {
  const name = clear.bodies[clear.nearest] ?? "";
  if (clear.least === 0) return `touches ${name}`;
  return clear.least < 0
    ? `${length(-clear.least, units, digits)} into ${name}`
    : `${length(clear.least, units, digits)} to ${name}`;
}
