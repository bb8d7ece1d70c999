/** Copies along a path: new ones from what is selected, and what they use. */
import type { Part, RepeatStep } from "../api/types";
import { kindsThatGive } from "./fields";
import { isBody, profileSource } from "./sweeps";

/** Steps whose bodies can be repeated. */
export const bodySources = () => kindsThatGive("body");

export function isProfile(part: Part, id: string): boolean {
  return part.steps.some((s) => isBody(s) && profileSource(s.profile) === id);
}

export function freshRun(runs: RepeatStep["runs"]): string {
  const taken = new Set(runs.map((r) => r.id));
  for (let i = runs.length + 2; ; i++) if (!taken.has(`run${i}`)) return `run${i}`;
}
