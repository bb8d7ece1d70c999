/** Drawing tools: what the clicks so far, and the pointer, would make. */
import type { Sketch, Vec2 } from "../api/types";
import {
  addArc, addCircle, addLine, addRectangle, addRing, addSpline, arcTangent, arcThrough, headingAt, type ArcShape, type Spot,
} from "./edit";
import { levelled } from "./place";
import type { Tool } from "./sketchKeys";

const TANGENT_DEG = 9;

export interface Proposal {
  /** Polylines to show while drawing. */
  lines: Vec2[][];
  /** Tags of the constraints that a click would add. */
  tags: string[];
}

const distance = (a: Vec2, b: Vec2) => Math.hypot(a[0] - b[0], a[1] - b[1]);

function circle(center: Vec2, radius: number): Vec2[] {
  return Array.from({ length: 65 }, (_, i) => [center[0] + radius * Math.cos((i * Math.PI) / 32), center[1] + radius * Math.sin((i * Math.PI) / 32)]);
}

function arcLine(a: Vec2, b: Vec2, shape: ArcShape): Vec2[] {
  const from = Math.atan2(a[1] - shape.center[1], a[0] - shape.center[0]);
  const to = Math.atan2(b[1] - shape.center[1], b[0] - shape.center[0]);
  const full = 2 * Math.PI;
  const sweep = shape.counterClockwise ? (to - from + full) % full : -((from - to + full) % full);
  return Array.from({ length: 49 }, (_, i) => {
    const t = from + (sweep * i) / 48;
    return [shape.center[0] + shape.radius * Math.cos(t), shape.center[1] + shape.radius * Math.sin(t)];
  });
}

/** The third click of an arc: through the pointer, or exactly tangent where it nearly is. */
export function arcFor(sketch: Sketch, from: Spot, to: Spot, bulge: Vec2, hold: boolean): { shape: ArcShape; tangentTo: string | null } | null {
  const shape = arcThrough(from.at, to.at, bulge);
  if (shape === null) return null;
  const arrival = from.existing === undefined || hold ? null : headingAt(sketch, from.existing);
  if (arrival !== null) {
    const r: Vec2 = [from.at[0] - shape.center[0], from.at[1] - shape.center[1]];
    const leaving: Vec2 = shape.counterClockwise ? [-r[1], r[0]] : [r[1], -r[0]];
    const { heading } = arrival;
    const turn = Math.atan2(heading[0] * leaving[1] - heading[1] * leaving[0], heading[0] * leaving[0] + heading[1] * leaving[1]);
    const tangent = Math.abs(turn) <= (TANGENT_DEG * Math.PI) / 180 ? arcTangent(from.at, to.at, heading) : null;
    if (tangent !== null) return { shape: tangent, tangentTo: arrival.entity };
  }
  return { shape, tangentTo: null };
}

/** What is being drawn, as far as it can be seen. */
export function propose(tool: Tool, sketch: Sketch, clicks: Spot[], now: Spot, hold: boolean): Proposal {
  const tags = now.onPath !== undefined ? ["◦path"] : now.existing !== undefined ? ["c"] : [];
  const [first, second] = clicks;
  if (first === undefined) return { lines: [], tags };
  if (tool === "line") {
    const { at, level } = aligned(first, now, hold);
    return { lines: [[first.at, at]], tags: level === null ? tags : [...tags, level[0]!] };
  }
  if (tool === "arc") {
    if (second === undefined) return { lines: [[first.at, now.at]], tags };
    const made = arcFor(sketch, first, second, now.at, hold);
    return made === null ? { lines: [[first.at, second.at]], tags: [] }
      : { lines: [arcLine(first.at, second.at, made.shape)], tags: made.tangentTo === null ? [] : ["t"] };
  }
  if (tool === "circle") return { lines: [circle(first.at, distance(first.at, now.at))], tags: [] };
  if (tool === "ring") {
    const radii = second === undefined ? [distance(first.at, now.at)] : [distance(first.at, second.at), distance(first.at, now.at)];
    return { lines: radii.map((r) => circle(first.at, r)), tags: [] };
  }
  if (tool === "rectangle") {
    const [dx, dy] = [now.at[0] - first.at[0], now.at[1] - first.at[1]];
    const corners = [[-1, -1], [1, -1], [1, 1], [-1, 1], [-1, -1]].map(([sx, sy]): Vec2 => [first.at[0] + sx! * dx, first.at[1] + sy! * dy]);
    return { lines: [corners], tags: ["h", "v", "m"] };
  }
  return { lines: [[...clicks.map((c) => c.at), now.at]], tags };
}

/** The second end of a line, made level or upright where it nearly is and nothing else holds it. */
export function aligned(from: Spot, to: Spot, hold: boolean): { at: Vec2; level: "horizontal" | "vertical" | null } {
  if (hold) return { at: to.at, level: null };
  const exact = levelled(from.at, to.at);
  if (to.existing === undefined && to.onPath === undefined) return exact;
  const already = distance(exact.at, to.at) < 1e-9 * (1 + distance(from.at, to.at));
  return { at: to.at, level: already ? exact.level : null };
}

export interface Made {
  label: string;
  change: (sketch: Sketch) => Sketch;
  /** The clicks with which a chain goes on; its id is known only once the sketch is made. */
  next: Spot[];
}

/** What this click completes; null when the tool wants more clicks. */
export function complete(tool: Tool, sketch: Sketch, clicks: Spot[], now: Spot, hold: boolean, onEnd: (id: string) => void): Made | null {
  const [first, second] = clicks;
  if (first === undefined) return null;
  if (tool === "line") {
    if (distance(first.at, now.at) < 1e-9) return null;
    const { at, level } = aligned(first, now, hold);
    const to: Spot = { ...now, at };
    return { label: "Draw a line", next: [to], change: (s) => { const made = addLine(s, first, to, level); onEnd(made.end); return made.sketch; } };
  }
  if (tool === "arc" && second !== undefined) {
    const made = arcFor(sketch, first, second, now.at, hold);
    if (made === null) return null;
    return { label: "Draw an arc", next: [second], change: (s) => { const arc = addArc(s, first, second, made.shape, made.tangentTo); onEnd(arc.end); return arc.sketch; } };
  }
  const radius = distance(first.at, now.at);
  if (tool === "circle" && radius > 1e-9) return { label: "Draw a circle", next: [], change: (s) => addCircle(s, first, radius).sketch };
  if (tool === "ring" && second !== undefined) {
    const radii = [distance(first.at, second.at), radius].sort((a, b) => b - a) as [number, number];
    if (radii[0] - radii[1] < 1e-9 || radii[1] < 1e-9) return null;
    return { label: "Draw a ring", next: [], change: (s) => addRing(s, first, ...radii) };
  }
  if (tool === "rectangle" && Math.min(Math.abs(now.at[0] - first.at[0]), Math.abs(now.at[1] - first.at[1])) > 1e-9) {
    return { label: "Draw a rectangle", next: [], change: (s) => addRectangle(s, first, now.at) };
  }
  return null;
}

export function completeSpline(clicks: Spot[]): Made | null {
  if (clicks.length < 2) return null;
  return { label: "Draw a spline", next: [], change: (s) => addSpline(s, clicks) };
}
