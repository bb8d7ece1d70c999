/** A new step of this kind, as it is to begin with. */
import type { Part, RepeatStep } from "../../api/types";
import { freshId, freshName } from "../../state/part";
import { isOwnPath } from "../../state/paths";
import { sketchUse } from "../../state/roles";
import { isBody } from "../../state/sweeps";
import { isProfile } from "../../state/repeats";

/** The selected body, or the last, repeated along the selected path, or the last that the body does not come from. */
export function newRepeat(part: Part, selected: string | null): RepeatStep | null {
  const bodies = part.steps.filter(isBody);
  const source = bodies.find((s) => s.id === selected) ?? bodies.at(-1);
  if (source === undefined) return null;
  const own = source.kind === "sweep" ? source.path.step : null;
  const paths = part.steps.filter((s) => s.id !== own && s.id !== source.id && (isOwnPath(s) || (sketchUse(s).path && !isProfile(part, s.id))));
  const path = paths.find((s) => s.id === selected) ?? paths.at(-1);
  if (path === undefined) return null;
  return {
    id: freshId(part, "repeat"), name: freshName(part, "Repeat"), off: false, kind: "repeat", source: source.id, path: { step: path.id, curves: null },
    count: 8, spacing: null, fitted: false, first: 0, last: 0, seat: null, orientation: "turning", up: null, turn: 0, alternate: 0, runs: [],
    refit: false, keep: false, result: source.result === "common" ? "separate" : source.result,
  };
}
