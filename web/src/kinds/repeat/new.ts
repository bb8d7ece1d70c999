/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import type { RepeatStep } from "./step";
import { beginning } from "../../state/beginning";
import { isOwnPath } from "../../state/paths";
import { sketchUse } from "../../state/roles";
import { isBody, pathOf, profileSource } from "../../state/bodies";

/** The selected body, or the last, repeated along the selected path, or the last that the body does not come from. */
export function newRepeat(part: Part, selected: string | null): RepeatStep | null {
  const bodies = part.steps.filter(isBody);
  const source = bodies.find((s) => s.id === selected) ?? bodies.at(-1);
  if (source === undefined) return null;
  const own = pathOf(source);
  const paths = part.steps.filter(
    (s) => s.id !== own && s.id !== source.id && (isOwnPath(s) || (sketchUse(s).path && !isProfile(part, s.id))),
  );
  const path = paths.find((s) => s.id === selected) ?? paths.at(-1);
  if (path === undefined) return null;
  return {
    ...beginning(part, "repeat", "Repeat"),
    source: source.id,
    path: { step: path.id, curves: null },
    count: 8,
    result: source.result === "common" ? "separate" : source.result,
  };
}

function isProfile(part: Part, id: string): boolean {
  return part.steps.some((s) => isBody(s) && profileSource(s.profile) === id);
}

export function freshRun(runs: RepeatStep["runs"]): string {
  const taken = new Set(runs.map((r) => r.id));
  for (let i = runs.length + 2; ; i++) if (!taken.has(`run${i}`)) return `run${i}`;
}
