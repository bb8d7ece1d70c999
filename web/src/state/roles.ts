/** What a step is to the others: the same colours everywhere follow from this. */
import type { BuildData, Entity, Part, Step, StepReport } from "../api/types";
import { givesOf, usesOf } from "./fields";
import { isBody } from "./bodies";
import { isDrawn, sketchOf } from "./drawings";

export type Role = "path" | "section" | "rail" | "plane" | "body" | "free";

export function roleOf(part: Part, step: Step): Role {
  const gives = givesOf(step);
  if (gives === "plane" || gives === "path") return gives;
  if (gives === "nothing") return "free";
  if (gives !== "drawing") return "body";
  for (const other of part.steps) {
    const use = usesOf(other).find((u) => u.to === step.id)?.use;
    if (use === "path" || use === "section" || use === "rail") return use;
  }
  return "free";
}

export const ROLE_COLOUR: Record<Role, string> = {
  path: "var(--madder)",
  section: "var(--sea)",
  rail: "var(--brass)",
  plane: "var(--soft)",
  body: "var(--ink)",
  free: "var(--soft)",
};

export interface Thread {
  from: string;
  to: string;
  role: Role;
}

/** The threads on the cord: from a step to each that it uses. */
export function threads(part: Part): Thread[] {
  const known = new Set(part.steps.map((s) => s.id));
  return part.steps.flatMap((step) =>
    usesOf(step)
      .filter((u) => known.has(u.to))
      .map(({ to, use }) => ({ from: step.id, to, role: use === "any" ? ("free" as const) : use })),
  );
}

/** The body that a selection speaks of: itself, what it measures or changes, or the first that uses it. */
export function sweptFor(part: Part, selected: string | null): string | null {
  const bodies = part.steps.filter(isBody);
  const chosen = part.steps.find((s) => s.id === selected);
  if (chosen !== undefined) {
    if (bodies.some((s) => s.id === selected)) return selected;
    if (givesOf(chosen) === "nothing") {
      const uses = usesOf(chosen);
      const told = (uses.find((u) => u.use === "path") ?? uses.find((u) => u.use === "body"))?.to;
      return bodies.find((s) => s.id === told)?.id ?? null;
    }
    const changed = ["change", "copies"].includes(givesOf(chosen))
      ? usesOf(chosen).find((u) => u.use === "body")?.to
      : undefined;
    if (changed !== undefined && bodies.some((s) => s.id === changed)) return changed;
    const user = bodies.find((s) => usesOf(s).some((u) => u.to === selected));
    if (user !== undefined) return user.id;
  }
  return bodies.at(-1)?.id ?? null;
}

/** First and last point of an open entity; none for a closed one. */
function endPoints(e: Entity): string[] {
  if (e.kind === "circle" || e.kind === "smoothed") return [];
  const ends = e.kind === "spline" || e.kind === "control_spline" ? [e.points[0], e.points.at(-1)] : [e.start, e.end];
  return ends.filter((p) => p !== null && p !== undefined);
}

/** Whether some of what is drawn closes, beside what does not. */
function hasClosed(drawn: Entity[]): boolean {
  const left = new Set(drawn);
  let found = true;
  while (found) {
    const degree = new Map<string, number>();
    for (const e of left) for (const p of endPoints(e)) degree.set(p, (degree.get(p) ?? 0) + 1);
    const hanging = [...left].filter((e) => endPoints(e).some((p) => degree.get(p) === 1));
    hanging.forEach((e) => left.delete(e));
    found = hanging.length > 0;
  }
  return left.size > 0;
}

/**
 * Whether a sketch's open curves can serve as a path, or its closed ones as a profile; or it has both beside each
 * other.
 */
export function sketchUse(step: Step | undefined): { path: boolean; profile: boolean; both: boolean } {
  if (!isDrawn(step)) return { path: false, profile: false, both: false };
  const drawn = sketchOf(step).entities.filter((e) => !e.construction);
  const degree = new Map<string, number>();
  for (const e of drawn) {
    const ends = endPoints(e);
    for (const p of ends) degree.set(p, (degree.get(p) ?? 0) + 1);
  }
  const loose = [...degree.values()].some((d) => d === 1);
  return { path: drawn.length > 0, profile: drawn.length > 0 && !loose, both: loose && hasClosed(drawn) };
}

export function allMessages(
  part: Part,
  result: BuildData | null,
): { step: string | null; message: StepReport["messages"][number] }[] {
  if (result === null) return [];
  const own = result.messages.map((message) => ({ step: null, message }));
  const steps = part.steps.flatMap((s) =>
    (result.steps[s.id]?.messages ?? []).map((message) => ({ step: s.id, message })),
  );
  return [...own, ...steps];
}
