/** What a step is to the others: the same colours everywhere follow from this. */
import type { BuildData, DatumStep, Entity, Part, Step, StepReport } from "../api/types";

export type Role = "path" | "section" | "plane" | "body" | "free";

export function roleOf(part: Part, step: Step): Role {
  if (step.kind === "plane" || step.kind === "datum") return "plane";
  if (step.kind !== "sketch") return "body";
  for (const other of part.steps) {
    if ((other.kind === "sweep" || other.kind === "plane") && other.path.step === step.id) return "path";
    if ((other.kind === "sweep" || other.kind === "extrude") && other.profile.step === step.id) return "section";
  }
  return "free";
}

export const ROLE_COLOUR: Record<Role, string> = {
  path: "var(--madder)", section: "var(--sea)", plane: "var(--soft)", body: "var(--ink)", free: "var(--soft)",
};

export interface Thread {
  from: string;
  to: string;
  role: Role;
}

/** The steps that place a datum plane. */
export function datumSources({ how }: DatumStep): string[] {
  const planes = how.by === "offset" ? [how.plane] : how.by === "midway" ? [how.first, how.second] : [];
  const steps = how.by === "points" ? how.points.map((p) => p.step) : how.by === "line" || how.by === "face" ? [how.step] : [];
  return [...new Set([...planes.flatMap((p) => (p.kind === "step" ? [p.step] : [])), ...steps])];
}

/** The threads on the cord: from a step to each that it uses. */
export function threads(part: Part): Thread[] {
  const known = new Set(part.steps.map((s) => s.id));
  const all: Thread[] = [];
  for (const step of part.steps) {
    if (step.kind === "plane") all.push({ from: step.id, to: step.path.step, role: "path" });
    if (step.kind === "datum") for (const to of datumSources(step)) all.push({ from: step.id, to, role: "plane" });
    if (step.kind === "sweep") all.push({ from: step.id, to: step.path.step, role: "path" });
    if (step.kind === "sweep" || step.kind === "extrude") all.push({ from: step.id, to: step.profile.step, role: "section" });
    if (step.kind === "sketch") {
      if (step.plane.kind === "step") all.push({ from: step.id, to: step.plane.step, role: "plane" });
      const ties = new Set(step.sketch.constraints.filter((c) => c.kind === "on_path" && c.path).map((c) => c.path!));
      for (const to of ties) all.push({ from: step.id, to, role: "path" });
      for (const to of new Set(step.sketch.projections.map((p) => p.source))) all.push({ from: step.id, to, role: "free" });
    }
  }
  return all.filter((t) => known.has(t.to));
}

/** The swept step that a selection speaks of: itself, or the first that uses it. */
export function sweptFor(part: Part, selected: string | null): string | null {
  const bodies = part.steps.filter((s) => s.kind === "sweep" || s.kind === "extrude");
  if (selected !== null) {
    if (bodies.some((s) => s.id === selected)) return selected;
    const users = bodies.filter((s) => s.profile.step === selected || (s.kind === "sweep" && s.path.step === selected));
    if (users.length > 0) return users[0]!.id;
  }
  return bodies.at(-1)?.id ?? null;
}

/** First and last point of an open entity; none for a closed one. */
function endPoints(e: Entity): string[] {
  if (e.kind === "circle" || e.kind === "smoothed") return [];
  const ends = e.kind === "spline" || e.kind === "control_spline" ? [e.points[0], e.points.at(-1)] : [e.start, e.end];
  return ends.filter((p) => p !== null && p !== undefined);
}

/** Whether a sketch's open curves can serve as a path, or its closed ones as a profile. */
export function sketchUse(step: Step | undefined): { path: boolean; profile: boolean } {
  if (step?.kind !== "sketch") return { path: false, profile: false };
  const drawn = step.sketch.entities.filter((e) => !e.construction);
  const degree = new Map<string, number>();
  for (const e of drawn) {
    const ends = endPoints(e);
    for (const p of ends) degree.set(p, (degree.get(p) ?? 0) + 1);
  }
  const loose = [...degree.values()].some((d) => d === 1);
  return { path: drawn.length > 0, profile: drawn.length > 0 && !loose };
}

export function allMessages(part: Part, result: BuildData | null): { step: string | null; message: StepReport["messages"][number] }[] {
  if (result === null) return [];
  const own = result.messages.map((message) => ({ step: null, message }));
  const steps = part.steps.flatMap((s) => (result.steps[s.id]?.messages ?? []).map((message) => ({ step: s.id, message })));
  return [...own, ...steps];
}
