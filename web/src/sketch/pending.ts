/** Drawing tools: what the clicks so far, and the pointer, would make. */
import type { Sketch, Vec2 } from "../api/types";
import {
  addArc, addCircle, addConstraint, addEntity, addLine, addRectangle, addRing, addSpline, arcTangent, arcThrough, headingAt, takePoint, type ArcShape, type Spot,
} from "./edit";
import { levelled } from "./place";
import {
  addArcSlot, addControlSpline, addCornerRectangle, addEllipse, addPolygon, addSlot, ellipseFor, ellipseLine, polygonCorners, slotOutline,
} from "./shapes";
import { isDrawTool, type Tool } from "./sketchKeys";

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

/** What a line's second end would be: where, and how it stands to the axes or to the piece before it. */
export interface Aim {
  at: Vec2;
  level: "horizontal" | "vertical" | null;
  relation: { kind: "tangent" | "perpendicular"; entity: string } | null;
}

const RELATION_DEG = 4;

/** The second end of a line, brought level, upright, tangent or square where it nearly is and nothing else holds it. */
export function aligned(sketch: Sketch, from: Spot, to: Spot, hold: boolean): Aim {
  const free = to.existing === undefined && to.onPath === undefined && to.onCurves === undefined && to.middleOf === undefined;
  if (hold) return { at: to.at, level: null, relation: null };
  const exact = levelled(from.at, to.at);
  const arrival = from.existing === undefined ? null : headingAt(sketch, from.existing);
  const curved = arrival !== null && sketch.entities.some((e) => e.id === arrival.entity && e.kind !== "line");
  const relation = arrival === null ? null : relate(from.at, to.at, arrival.heading, curved);
  if (!free) {
    const already = (p: Vec2) => distance(p, to.at) < 1e-9 * (1 + distance(from.at, to.at));
    return { at: to.at, level: already(exact.at) ? exact.level : null, relation: null };
  }
  if (relation !== null && arrival !== null && (exact.level === null || curved)) {
    const both = distance(exact.at, relation.at) < 1e-6 * (1 + distance(from.at, to.at));
    return { at: relation.at, level: both ? exact.level : null, relation: { kind: relation.kind, entity: arrival.entity } };
  }
  return { ...exact, relation: null };
}

/** On along a curve, or square to a line, when the pointer nearly is. */
function relate(from: Vec2, to: Vec2, heading: Vec2, curved: boolean): { at: Vec2; kind: "tangent" | "perpendicular" } | null {
  const d: Vec2 = [to[0] - from[0], to[1] - from[1]];
  const size = Math.hypot(...heading) * Math.hypot(...d);
  if (size === 0) return null;
  const u: Vec2 = [heading[0] / Math.hypot(...heading), heading[1] / Math.hypot(...heading)];
  const [along, across] = [u[0] * d[0] + u[1] * d[1], u[0] * d[1] - u[1] * d[0]];
  const slip = Math.sin((RELATION_DEG * Math.PI) / 180) * Math.hypot(...d);
  if (curved && along > 0 && Math.abs(across) < slip) return { at: [from[0] + u[0] * along, from[1] + u[1] * along], kind: "tangent" };
  if (!curved && Math.abs(along) < slip) return { at: [from[0] - u[1] * across, from[1] + u[0] * across], kind: "perpendicular" };
  return null;
}

/** The tangent arc with which a chain of lines goes on while Shift is held. */
function bend(sketch: Sketch, from: Spot, to: Spot): { shape: ArcShape; tangentTo: string } | null {
  const arrival = from.existing === undefined ? null : headingAt(sketch, from.existing);
  const shape = arrival === null ? null : arcTangent(from.at, to.at, arrival.heading);
  return shape === null || arrival === null ? null : { shape, tangentTo: arrival.entity };
}

/** How the pointer is held: Alt keeps constraints off, Shift turns to the tool's other way. */
export interface Held {
  alt: boolean;
  shift: boolean;
  sides: number;
}

const spotTags = (now: Spot) => [
  ...(now.onPath !== undefined ? ["◦path"] : now.existing !== undefined ? ["c"] : []), ...(now.middleOf !== undefined ? ["m"] : []),
  ...(now.onCurves ?? []).map(() => "o"),
];

/** What is being drawn, as far as it can be seen. */
export function propose(tool: Tool, sketch: Sketch, clicks: Spot[], now: Spot, held: Held): Proposal {
  const tags = spotTags(now);
  const [first, second, third] = clicks;
  if (first === undefined || !isDrawTool(tool)) return { lines: [], tags };
  switch (tool) {
    case "line": {
      const arc = held.shift ? bend(sketch, first, now) : null;
      if (arc !== null) return { lines: [arcLine(first.at, now.at, arc.shape)], tags: [...tags, "t"] };
      const { at, level, relation } = aligned(sketch, first, now, held.alt);
      return { lines: [[first.at, at]], tags: [...tags, ...(level === null ? [] : [level[0]!]), ...(relation === null ? [] : [relation.kind === "tangent" ? "t" : "q"])] };
    }
    case "arc": {
      if (second === undefined) return { lines: [[first.at, now.at]], tags };
      const made = arcFor(sketch, first, second, now.at, held.alt);
      return made === null ? { lines: [[first.at, second.at]], tags: [] }
        : { lines: [arcLine(first.at, second.at, made.shape)], tags: made.tangentTo === null ? [] : ["t"] };
    }
    case "centre_arc": {
      if (second === undefined) return { lines: [[first.at, now.at]], tags };
      const arc = centreArc(first.at, second.at, now.at, held.shift);
      return { lines: [[first.at, second.at], arcLine(second.at, arc.end, arc.shape)], tags };
    }
    case "circle": return { lines: [circle(first.at, distance(first.at, now.at))], tags };
    case "ring": {
      const radii = second === undefined ? [distance(first.at, now.at)] : [distance(first.at, second.at), distance(first.at, now.at)];
      return { lines: radii.map((r) => circle(first.at, r)), tags: [] };
    }
    case "ellipse": {
      const tip = second === undefined ? aligned(sketch, first, now, held.alt).at : second.at;
      const shape = second === undefined ? { major: tip, minor: distance(first.at, tip) / 2 } : ellipseFor(first.at, second.at, now.at);
      return { lines: [[first.at, tip], ...(shape === null ? [] : [ellipseLine(first.at, shape)])], tags };
    }
    case "rectangle": {
      const [dx, dy] = [now.at[0] - first.at[0], now.at[1] - first.at[1]];
      const corners = [[-1, -1], [1, -1], [1, 1], [-1, 1], [-1, -1]].map(([sx, sy]): Vec2 => [first.at[0] + sx! * dx, first.at[1] + sy! * dy]);
      return { lines: [corners], tags: ["h", "v", "m"] };
    }
    case "corner_rectangle": {
      const [[x0, y0], [x1, y1]] = [first.at, now.at];
      return { lines: [[[x0, y0], [x1, y0], [x1, y1], [x0, y1], [x0, y0]]], tags: ["h", "v", ...tags] };
    }
    case "slot": {
      const { at, level } = second === undefined ? aligned(sketch, first, now, held.alt) : { at: second.at, level: null };
      const other: Vec2 = [2 * first.at[0] - at[0], 2 * first.at[1] - at[1]];
      const radius = second === undefined ? distance(first.at, at) / 4 : widthAt(other, at, now.at);
      const [p1, p2, p3, p4] = slotOutline(other, at, radius) as [Vec2, Vec2, Vec2, Vec2];
      const cap = (center: Vec2, a: Vec2, b: Vec2) => arcLine(a, b, { center, radius, counterClockwise: true });
      return { lines: [[other, at], [p1, p2], cap(at, p3, p2), [p3, p4], cap(other, p1, p4)], tags: level === null ? ["m"] : ["m", level[0]!] };
    }
    case "arc_slot": {
      if (second === undefined) return { lines: [[first.at, now.at]], tags };
      const arc = centreArc(first.at, second.at, third?.at ?? now.at, false);
      const middle = arcLine(second.at, arc.end, arc.shape);
      const w = third === undefined ? 0 : Math.abs(distance(first.at, now.at) - arc.shape.radius);
      const beside = (k: number) => middle.map((p): Vec2 => {
        const r = distance(p, first.at) || 1;
        return [first.at[0] + ((p[0] - first.at[0]) * (r + k * w)) / r, first.at[1] + ((p[1] - first.at[1]) * (r + k * w)) / r];
      });
      return { lines: w > 0 ? [beside(1), beside(-1)] : [middle], tags };
    }
    case "polygon": {
      const corners = polygonCorners(first.at, now.at, held.sides, held.shift);
      return { lines: [[...corners, corners[0]!], circle(first.at, distance(first.at, now.at))], tags: ["e", held.shift ? "t" : "o"] };
    }
    case "spline":
    case "control_spline": return { lines: [[...clicks.map((c) => c.at), now.at]], tags };
  }
}

/** The arc about a centre from a start towards where the pointer is. */
function centreArc(center: Vec2, start: Vec2, towards: Vec2, clockwise: boolean): { shape: ArcShape; end: Vec2 } {
  const radius = distance(center, start);
  const reach = distance(center, towards) || 1;
  const end: Vec2 = [center[0] + ((towards[0] - center[0]) * radius) / reach, center[1] + ((towards[1] - center[1]) * radius) / reach];
  return { shape: { center, radius, counterClockwise: !clockwise }, end };
}

/** How far a place stands off the line through two others. */
function widthAt(a: Vec2, b: Vec2, at: Vec2): number {
  const u: Vec2 = [b[0] - a[0], b[1] - a[1]];
  return Math.abs(u[0] * (at[1] - a[1]) - u[1] * (at[0] - a[0])) / (Math.hypot(...u) || 1);
}

export interface Made {
  label: string;
  change: (sketch: Sketch) => Sketch;
  /** The clicks with which a chain goes on; its id is known only once the sketch is made. */
  next: Spot[];
}

/** What this click completes; null when the tool wants more clicks. */
export function complete(tool: Tool, sketch: Sketch, clicks: Spot[], now: Spot, held: Held, onEnd: (id: string) => void): Made | null {
  const [first, second, third] = clicks;
  if (first === undefined || !isDrawTool(tool)) return null;
  const radius = distance(first.at, now.at);
  switch (tool) {
    case "line": {
      if (radius < 1e-9) return null;
      const arc = held.shift ? bend(sketch, first, now) : null;
      if (arc !== null) {
        return { label: "Draw a tangent arc", next: [now], change: (s) => { const made = addArc(s, first, now, arc.shape, arc.tangentTo); onEnd(made.end); return made.sketch; } };
      }
      const { at, level, relation } = aligned(sketch, first, now, held.alt);
      const to: Spot = { ...now, at };
      return { label: "Draw a line", next: [to], change: (s) => {
        const made = addLine(s, first, to, level);
        onEnd(made.end);
        return relation === null ? made.sketch : addConstraint(made.sketch, relation.kind, [relation.entity, made.id]);
      } };
    }
    case "arc": {
      const made = second === undefined ? null : arcFor(sketch, first, second, now.at, held.alt);
      if (second === undefined || made === null) return null;
      return { label: "Draw an arc", next: [second], change: (s) => { const arc = addArc(s, first, second, made.shape, made.tangentTo); onEnd(arc.end); return arc.sketch; } };
    }
    case "centre_arc": {
      if (second === undefined || radius < 1e-9) return null;
      const arc = centreArc(first.at, second.at, now.at, held.shift);
      const end: Spot = now.existing !== undefined ? now : { at: arc.end };
      return { label: "Draw an arc", next: [], change: (s) => addCentredArc(s, first, second, end, !held.shift) };
    }
    case "circle": return radius > 1e-9 ? { label: "Draw a circle", next: [], change: (s) => addCircle(s, first, radius).sketch } : null;
    case "ring": {
      if (second === undefined) return null;
      const radii = [distance(first.at, second.at), radius].sort((a, b) => b - a) as [number, number];
      if (radii[0] - radii[1] < 1e-9 || radii[1] < 1e-9) return null;
      return { label: "Draw a ring", next: [], change: (s) => addRing(s, first, ...radii) };
    }
    case "ellipse": {
      if (second === undefined) return null;
      const { at, level } = aligned(sketch, first, second, held.alt);
      const shape = ellipseFor(first.at, at, now.at);
      return shape === null ? null : { label: "Draw an ellipse", next: [], change: (s) => addEllipse(s, first, { ...second, at }, shape.minor, level) };
    }
    case "rectangle":
    case "corner_rectangle": {
      if (Math.min(Math.abs(now.at[0] - first.at[0]), Math.abs(now.at[1] - first.at[1])) <= 1e-9) return null;
      return { label: "Draw a rectangle", next: [], change: (s) => (tool === "rectangle" ? addRectangle(s, first, now.at) : addCornerRectangle(s, first, now)) };
    }
    case "slot": {
      if (second === undefined) return null;
      const { at, level } = aligned(sketch, first, { at: second.at }, held.alt);
      const other: Vec2 = [2 * first.at[0] - at[0], 2 * first.at[1] - at[1]];
      const half = widthAt(other, at, now.at);
      return half < 1e-9 ? null : { label: "Draw a slot", next: [], change: (s) => addSlot(s, first, at, half, level) };
    }
    case "arc_slot": {
      if (second === undefined || third === undefined) return null;
      const middle = distance(first.at, second.at);
      const half = Math.abs(radius - middle);
      return half < 1e-9 || half >= middle ? null : { label: "Draw a slot", next: [], change: (s) => addArcSlot(s, first, second.at, third.at, half) };
    }
    case "polygon": return radius > 1e-9 ? { label: "Draw a polygon", next: [], change: (s) => addPolygon(s, first, now.at, held.sides, held.shift) } : null;
    case "spline":
    case "control_spline": return null;
  }
}

function addCentredArc(sketch: Sketch, center: Spot, start: Spot, end: Spot, counterClockwise: boolean): Sketch {
  const c = takePoint(sketch, center);
  const a = takePoint(c.sketch, start);
  const b = takePoint(a.sketch, end);
  const [from, to] = counterClockwise ? [a.id, b.id] : [b.id, a.id];
  return addEntity(b.sketch, (id) => ({ kind: "arc", id, center: c.id, start: from, end: to, construction: false })).sketch;
}

export function completeSpline(tool: Tool, clicks: Spot[]): Made | null {
  if (tool === "control_spline") return clicks.length < 3 ? null : { label: "Draw a control spline", next: [], change: (s) => addControlSpline(s, clicks) };
  return clicks.length < 2 ? null : { label: "Draw a spline", next: [], change: (s) => addSpline(s, clicks) };
}
