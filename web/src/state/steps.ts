/** Edits of the step list, as pure functions of the part; and what a new step most likely means. */
import type { Part, Step } from "../api/types";
import { carrierOf, isDrawn, planeStepOf, sketchOf } from "./drawings";
import { pathOf } from "./bodies";
import { givesOf, usesOf } from "./fields";
import { settled, ungrouped } from "./groups";
import { isOwnPath } from "./paths";
import { sketchUse } from "./roles";

/** Put a step where the sinker hangs, or at the end; the sinker moves on with it. */
export function insertStep(part: Part, step: Step): Part {
  if (part.sinker === null) return { ...part, steps: [...part.steps, step] };
  const at = part.steps.findIndex((s) => s.id === part.sinker) + 1;
  const steps = [...part.steps.slice(0, at), step, ...part.steps.slice(at)];
  return settled({ ...part, steps, sinker: step.id }, step.id);
}

/** The path and profile that a new sweep most likely means, from what is selected and drawn. */
export function likelySources(part: Part, selected: string | null): { path: string | null; profile: string | null } {
  const drawn = part.steps.filter(isDrawn).filter((s) => sketchOf(s).entities.length > 0);
  const carriers = part.steps.filter((s) => givesOf(s) === "plane").flatMap((s) => pathOf(s) ?? []);
  const onSquare = drawn.filter((s) => planeStepOf(s) !== null && sketchUse(s).profile);
  const closed = drawn.filter((s) => sketchUse(s).profile);
  const chosen = drawn.find((s) => s.id === selected);
  const flat =
    chosen && sketchUse(chosen).both ? chosen : drawn.length === 1 ? drawn.find((s) => sketchUse(s).both) : undefined;
  if (flat !== undefined) return { path: flat.id, profile: flat.id };
  const open = drawn.filter((s) => carrierOf(part, s) && !sketchUse(s).profile); // an outline of a surface
  const section =
    chosen && (onSquare.includes(chosen) || open.includes(chosen))
      ? chosen
      : (onSquare.at(-1) ?? closed.at(-1) ?? open.at(-1));
  const own = part.steps.filter(isOwnPath);
  const others = drawn.filter((s) => s.id !== section?.id);
  const path =
    (section && carrierOf(part, section)) ??
    own.find((s) => s.id === selected)?.id ??
    carriers.at(-1) ??
    own.at(-1)?.id ??
    others.filter((s) => !sketchUse(s).profile).at(-1)?.id ??
    others.at(-1)?.id ??
    null;
  return { path, profile: section === undefined || section.id === path ? null : section.id };
}

/** Delete a step; the sinker hangs on to the one above. */
export function removeStep(part: Part, id: string): Part {
  const at = part.steps.findIndex((s) => s.id === id);
  const above = part.steps[at - 1]?.id ?? null;
  const colours = Object.fromEntries(Object.entries(part.colours).filter(([step]) => step !== id));
  return {
    ...ungrouped(part, [id]),
    steps: part.steps.filter((s) => s.id !== id),
    sinker: part.sinker === id ? above : part.sinker,
    colours,
  };
}

export interface Room {
  /** The first and the last place on the cord that a step can take. */
  low: number;
  high: number;
  /** Which step keeps it from going further up, and which from going further down. */
  above: Step | null;
  below: Step | null;
}

/** Where on the cord a step can stand: after all that it uses, before all that use it. */
export function roomOnCord(part: Part, id: string): Room {
  const at = part.steps.findIndex((s) => s.id === id);
  const step = part.steps[at];
  const none: Room = { low: at, high: at, above: null, below: null };
  if (step === undefined) return none;
  const sources = new Set(usesOf(step).map((u) => u.to));
  const above = part.steps.slice(0, at).findLast((s) => sources.has(s.id)) ?? null;
  const below = part.steps.slice(at + 1).find((s) => usesOf(s).some((u) => u.to === id)) ?? null;
  return {
    low: above === null ? 0 : part.steps.indexOf(above) + 1,
    high: below === null ? part.steps.length - 1 : part.steps.indexOf(below) - 1,
    above,
    below,
  };
}

/** Bring a step to another place on the cord. */
export function moveStep(part: Part, id: string, to: number): Part {
  const at = part.steps.findIndex((s) => s.id === id);
  if (at === to || at < 0) return part;
  const steps = [...part.steps];
  const [step] = steps.splice(at, 1);
  steps.splice(to, 0, step!);
  return settled({ ...part, steps }, id);
}
