/** Adding steps, with the selection in mind. */
import type { Part, Step } from "../api/types";
import { isAlong } from "../state/bodies";
import { usePart } from "../state/part";
import { isOwnPath } from "../state/paths";
import { sketchUse } from "../state/roles";
import { insertStep, likelySources } from "../state/steps";
import { useView } from "../state/view";

function sayMissing(label: string): void {
  usePart
    .getState()
    .say({
      level: "note",
      code: "missing-source",
      text: `${label} needs something to work on first.`,
      way_out: "Draw what it is made of, then try again.",
      place: {},
    });
}

export function add(label: string, make: (part: Part) => Step | null): string | null {
  const { document, change, say } = usePart.getState();
  if (document === null) return null;
  const step = make(document);
  if (step === null) {
    sayMissing(label);
    return null;
  }
  say(null);
  void change(label, (p) => insertStep(p, step));
  useView.getState().select(step.id);
  return step.id;
}

/** Several steps as one change; the last of them is selected. */
export function begin(label: string, make: (part: Part) => Step[]): void {
  const { document, change, say } = usePart.getState();
  if (document === null) return;
  const steps = make(document);
  if (steps.length === 0) return sayMissing(label);
  say(null);
  void change(label, (p) => steps.reduce(insertStep, p));
  useView.getState().select(steps.at(-1)!.id);
}

/** The path that a command means: the selected sketch, or the last that is drawn. */
export function pathFor(part: Part, selected: string | null): string | null {
  const chosen = part.steps.find((s) => s.id === selected);
  if (chosen !== undefined && (isOwnPath(chosen) || isAlong(chosen) || sketchUse(chosen).path)) return chosen.id;
  return likelySources(part, null).path ?? part.steps.filter((s) => sketchUse(s).path).at(-1)?.id ?? null;
}

/** A step made along the path that is meant, or of it. */
export function addOnPath(label: string, make: (part: Part, path: string) => Step | null): void {
  const { selected } = useView.getState();
  add(label, (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : make(p, path);
  });
}

/** The selected closed sketch, or the last one. */
export function profileFor(part: Part): string | null {
  const closed = part.steps.filter((s) => sketchUse(s).profile);
  return (closed.find((s) => s.id === useView.getState().selected) ?? closed.at(-1))?.id ?? null;
}
