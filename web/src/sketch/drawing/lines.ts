/** Drawing lines and arcs, level, tangent or square where they nearly are. */
import type { Sketch, Vec2 } from "../../api/types";
import {
  addArc,
  addConstraint,
  addEntity,
  addLine,
  arcTangent,
  arcThrough,
  headingAt,
  takePoint,
  type ArcShape,
  type Spot,
} from "../edit/entities";
import { levelled } from "../place";
import { distance, type DrawingTool } from "./tool";

const TANGENT_DEG = 9;

export function arcLine(a: Vec2, b: Vec2, shape: ArcShape): Vec2[] {
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
export function arcFor(
  sketch: Sketch,
  from: Spot,
  to: Spot,
  bulge: Vec2,
  hold: boolean,
): { shape: ArcShape; tangentTo: string | null } | null {
  const shape = arcThrough(from.at, to.at, bulge);
  if (shape === null) return null;
  const arrival = from.existing === undefined || hold ? null : headingAt(sketch, from.existing);
  if (arrival !== null) {
    const r: Vec2 = [from.at[0] - shape.center[0], from.at[1] - shape.center[1]];
    const leaving: Vec2 = shape.counterClockwise ? [-r[1], r[0]] : [r[1], -r[0]];
    const { heading } = arrival;
    const turn = Math.atan2(
      heading[0] * leaving[1] - heading[1] * leaving[0],
      heading[0] * leaving[0] + heading[1] * leaving[1],
    );
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
  const free =
    to.existing === undefined && to.onPath === undefined && to.onCurves === undefined && to.middleOf === undefined;
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
    return {
      at: relation.at,
      level: both ? exact.level : null,
      relation: { kind: relation.kind, entity: arrival.entity },
    };
  }
  return { ...exact, relation: null };
}

/** On along a curve, or square to a line, when the pointer nearly is. */
function relate(
  from: Vec2,
  to: Vec2,
  heading: Vec2,
  curved: boolean,
): { at: Vec2; kind: "tangent" | "perpendicular" } | null {
  const d: Vec2 = [to[0] - from[0], to[1] - from[1]];
  const size = Math.hypot(...heading) * Math.hypot(...d);
  if (size === 0) return null;
  const u: Vec2 = [heading[0] / Math.hypot(...heading), heading[1] / Math.hypot(...heading)];
  const [along, across] = [u[0] * d[0] + u[1] * d[1], u[0] * d[1] - u[1] * d[0]];
  const slip = Math.sin((RELATION_DEG * Math.PI) / 180) * Math.hypot(...d);
  if (curved && along > 0 && Math.abs(across) < slip)
    return { at: [from[0] + u[0] * along, from[1] + u[1] * along], kind: "tangent" };
  if (!curved && Math.abs(along) < slip)
    return { at: [from[0] - u[1] * across, from[1] + u[0] * across], kind: "perpendicular" };
  return null;
}

/** The tangent arc with which a chain of lines goes on while Shift is held. */
function bend(sketch: Sketch, from: Spot, to: Spot): { shape: ArcShape; tangentTo: string } | null {
  const arrival = from.existing === undefined ? null : headingAt(sketch, from.existing);
  const shape = arrival === null ? null : arcTangent(from.at, to.at, arrival.heading);
  return shape === null || arrival === null ? null : { shape, tangentTo: arrival.entity };
}

/** The arc about a centre from a start towards where the pointer is. */
export function centreArc(
  center: Vec2,
  start: Vec2,
  towards: Vec2,
  clockwise: boolean,
): { shape: ArcShape; end: Vec2 } {
  const radius = distance(center, start);
  const reach = distance(center, towards) || 1;
  const end: Vec2 = [
    center[0] + ((towards[0] - center[0]) * radius) / reach,
    center[1] + ((towards[1] - center[1]) * radius) / reach,
  ];
  return { shape: { center, radius, counterClockwise: !clockwise }, end };
}

function addCentredArc(sketch: Sketch, center: Spot, start: Spot, end: Spot, counterClockwise: boolean): Sketch {
  const c = takePoint(sketch, center);
  const a = takePoint(c.sketch, start);
  const b = takePoint(a.sketch, end);
  const [from, to] = counterClockwise ? [a.id, b.id] : [b.id, a.id];
  return addEntity(b.sketch, (id) => ({ kind: "arc", id, center: c.id, start: from, end: to, construction: false }))
    .sketch;
}

export const line: DrawingTool = {
  propose: ({ sketch, first, now, held }, tags) => {
    const arc = held.shift ? bend(sketch, first, now) : null;
    if (arc !== null) return { lines: [arcLine(first.at, now.at, arc.shape)], tags: [...tags, "t"] };
    const { at, level, relation } = aligned(sketch, first, now, held.alt);
    const more = [
      ...(level === null ? [] : [level[0]!]),
      ...(relation === null ? [] : [relation.kind === "tangent" ? "t" : "q"]),
    ];
    return { lines: [[first.at, at]], tags: [...tags, ...more] };
  },
  complete: ({ sketch, first, now, held }, onEnd) => {
    if (distance(first.at, now.at) < 1e-9) return null;
    const arc = held.shift ? bend(sketch, first, now) : null;
    if (arc !== null) {
      return {
        label: "Draw a tangent arc",
        next: [now],
        change: (s) => {
          const made = addArc(s, first, now, arc.shape, arc.tangentTo);
          onEnd(made.end);
          return made.sketch;
        },
      };
    }
    const { at, level, relation } = aligned(sketch, first, now, held.alt);
    const to: Spot = { ...now, at };
    return {
      label: "Draw a line",
      next: [to],
      change: (s) => {
        const made = addLine(s, first, to, level);
        onEnd(made.end);
        return relation === null ? made.sketch : addConstraint(made.sketch, relation.kind, [relation.entity, made.id]);
      },
    };
  },
};

export const arc: DrawingTool = {
  propose: ({ sketch, first, second, now, held }, tags) => {
    if (second === undefined) return { lines: [[first.at, now.at]], tags };
    const made = arcFor(sketch, first, second, now.at, held.alt);
    if (made === null) return { lines: [[first.at, second.at]], tags: [] };
    return { lines: [arcLine(first.at, second.at, made.shape)], tags: made.tangentTo === null ? [] : ["t"] };
  },
  complete: ({ sketch, first, second, now, held }, onEnd) => {
    const made = second === undefined ? null : arcFor(sketch, first, second, now.at, held.alt);
    if (second === undefined || made === null) return null;
    return {
      label: "Draw an arc",
      next: [second],
      change: (s) => {
        const drawn = addArc(s, first, second, made.shape, made.tangentTo);
        onEnd(drawn.end);
        return drawn.sketch;
      },
    };
  },
};

export const centredArc: DrawingTool = {
  propose: ({ first, second, now, held }, tags) => {
    if (second === undefined) return { lines: [[first.at, now.at]], tags };
    const made = centreArc(first.at, second.at, now.at, held.shift);
    return { lines: [[first.at, second.at], arcLine(second.at, made.end, made.shape)], tags };
  },
  complete: ({ first, second, now, held }) => {
    if (second === undefined || distance(first.at, now.at) < 1e-9) return null;
    const made = centreArc(first.at, second.at, now.at, held.shift);
    const end: Spot = now.existing !== undefined ? now : { at: made.end };
    return { label: "Draw an arc", next: [], change: (s) => addCentredArc(s, first, second, end, !held.shift) };
  },
};
