/** What a step is to the others: the same colours everywhere follow from this. */
import type { CurveStep, BuildData, DatumStep, Entity, HoseStep, Part, Port, RoutePoint, Step, StepReport } from "../api/types";

import { derivedPlanes, isOwnPath } from "./paths";
import { repeatPlanes } from "./repeats";
import { helpersOf, isBody, profileSource, upSources } from "./sweeps";

export type Role = "path" | "section" | "rail" | "plane" | "body" | "free";

export function roleOf(part: Part, step: Step): Role {
  if (step.kind === "plane" || step.kind === "datum") return "plane";
  if (isOwnPath(step)) return "path";
  if (step.kind === "clearance") return "free";
  if (step.kind !== "sketch") return "body";
  for (const other of part.steps) {
    if ((other.kind === "sweep" || other.kind === "plane" || other.kind === "wound" || other.kind === "repeat" || other.kind === "derived" || other.kind === "projected") && other.path.step === step.id) return "path";
    if (other.kind === "joined" && other.parts.some((p) => p.step === step.id)) return "path";
    if (other.kind === "route" && other.points.some((p) => p.at.by === "sketch" && p.at.step === step.id)) return "path";
    if (other.kind === "wound" && other.former?.step === step.id) return "section";
    if (isBody(other) && profileSource(other.profile) === step.id) return "section";
    const helper = other.kind === "sweep" ? helpersOf(other).find((h) => h.to === step.id) : undefined;
    if (helper !== undefined && helper.role !== "plane") return helper.role;
  }
  return "free";
}

export const ROLE_COLOUR: Record<Role, string> = {
  path: "var(--madder)", section: "var(--sea)", rail: "var(--brass)", plane: "var(--soft)", body: "var(--ink)", free: "var(--soft)",
};

export interface Thread {
  from: string;
  to: string;
  role: Role;
}

/** The steps that place a datum plane. */
export function datumSources({ how }: DatumStep): string[] {
  const planes = how.by === "offset" || how.by === "angle" ? [how.plane] : how.by === "midway" ? [how.first, how.second] : [];
  const steps = how.by === "points" ? how.points.map((p) => p.step) : how.by === "line" || how.by === "face" ? [how.step] : [];
  return [...new Set([...planes.flatMap((p) => (p.kind === "step" ? [p.step] : [])), ...steps])];
}

const placeSources = (at: RoutePoint["at"] | Exclude<Port["at"], { by: "plane" }>): string[] => (at.by === "sketch" ? [at.step] : at.by === "path" ? [at.path.step] : []);

/** The steps that a curve's points stand on, or its plane. */
export function curveSources({ shape }: CurveStep): string[] {
  if (shape.by === "three") return [...new Set([shape.start, shape.via, shape.end].flatMap(placeSources))];
  return shape.plane.kind === "step" ? [shape.plane.step] : [];
}

/** The steps that a hose's ports and points stand on. */
export function hoseSources({ start, end, points }: HoseStep): string[] {
  const ports = [start, end].flatMap(({ at }) => (at.by === "plane" ? (at.plane.kind === "step" ? [at.plane.step] : []) : placeSources(at)));
  return [...new Set([...ports, ...points.flatMap((p) => placeSources(p.at))])];
}

/** The threads on the cord: from a step to each that it uses. */
export function threads(part: Part): Thread[] {
  const known = new Set(part.steps.map((s) => s.id));
  const all: Thread[] = [];
  for (const step of part.steps) {
    if (step.kind === "plane") all.push({ from: step.id, to: step.path.step, role: "path" });
    if (step.kind === "datum") for (const to of datumSources(step)) all.push({ from: step.id, to, role: "plane" });
    if (step.kind === "sweep") all.push({ from: step.id, to: step.path.step, role: "path" });
    if (step.kind === "sweep") for (const h of helpersOf(step)) all.push({ from: step.id, ...h });
    if (step.kind === "derived") {
      all.push({ from: step.id, to: step.path.step, role: "path" });
      for (const to of derivedPlanes(step)) all.push({ from: step.id, to, role: "plane" });
    }
    if (step.kind === "projected") {
      all.push({ from: step.id, to: step.path.step, role: "path" }, { from: step.id, to: step.onto.step, role: "body" });
      for (const to of upSources(step.along)) all.push({ from: step.id, to, role: "plane" });
    }
    if (step.kind === "crossing") for (const to of new Set([step.first.step, step.second.step])) all.push({ from: step.id, to, role: "body" });
    if (step.kind === "repeat") {
      all.push({ from: step.id, to: step.source, role: "body" }, { from: step.id, to: step.path.step, role: "path" });
      for (const to of repeatPlanes(step)) all.push({ from: step.id, to, role: "plane" });
    }
    if (step.kind === "edges") for (const to of new Set(step.edges.map((e) => e.step))) all.push({ from: step.id, to, role: "body" });
    if (step.kind === "clearance") {
      all.push({ from: step.id, to: step.path.step, role: "path" });
      for (const to of step.obstacles) all.push({ from: step.id, to, role: "body" });
    }
    if (step.kind === "joined") for (const to of new Set(step.parts.map((p) => p.step))) all.push({ from: step.id, to, role: "path" });
    if (step.kind === "hose") for (const to of hoseSources(step)) all.push({ from: step.id, to, role: "plane" });
    if (step.kind === "wound") all.push({ from: step.id, to: step.path.step, role: "path" });
    if (step.kind === "wound" && step.former !== null) all.push({ from: step.id, to: step.former.step, role: "section" });
    if (step.kind === "route") for (const to of new Set(step.points.flatMap((p) => placeSources(p.at)))) all.push({ from: step.id, to, role: "path" });
    if (step.kind === "curve") for (const to of curveSources(step)) all.push({ from: step.id, to, role: step.shape.by === "three" ? "path" : "plane" });
    if (step.kind === "helix" && step.plane.kind === "step") all.push({ from: step.id, to: step.plane.step, role: "plane" });
    const profile = isBody(step) ? profileSource(step.profile) : null;
    if (profile !== null) all.push({ from: step.id, to: profile, role: "section" });
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
  const bodies = part.steps.filter(isBody);
  if (selected !== null) {
    const chosen = part.steps.find((s) => s.id === selected);
    if (chosen?.kind === "clearance") return bodies.find((s) => s.id === chosen.path.step)?.id ?? null;
    if (bodies.some((s) => s.id === selected)) return selected;
    const users = bodies.filter((s) => profileSource(s.profile) === selected
      || (s.kind === "sweep" && (s.path.step === selected || helpersOf(s).some((h) => h.to === selected))));
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

/** Whether a sketch's open curves can serve as a path, or its closed ones as a profile; or it has both beside each other. */
export function sketchUse(step: Step | undefined): { path: boolean; profile: boolean; both: boolean } {
  if (step?.kind !== "sketch") return { path: false, profile: false, both: false };
  const drawn = step.sketch.entities.filter((e) => !e.construction);
  const degree = new Map<string, number>();
  for (const e of drawn) {
    const ends = endPoints(e);
    for (const p of ends) degree.set(p, (degree.get(p) ?? 0) + 1);
  }
  const loose = [...degree.values()].some((d) => d === 1);
  return { path: drawn.length > 0, profile: drawn.length > 0 && !loose, both: loose && hasClosed(drawn) };
}

export function allMessages(part: Part, result: BuildData | null): { step: string | null; message: StepReport["messages"][number] }[] {
  if (result === null) return [];
  const own = result.messages.map((message) => ({ step: null, message }));
  const steps = part.steps.flatMap((s) => (result.steps[s.id]?.messages ?? []).map((message) => ({ step: s.id, message })));
  return [...own, ...steps];
}
