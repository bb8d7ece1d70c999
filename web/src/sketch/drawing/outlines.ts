/** Drawing closed outlines at once: boxes, slots and polygons. */
import type { Vec2 } from "../../api/types";
import { addRectangle } from "../edit/entities";
import { addArcSlot, addCornerRectangle, addPolygon, addSlot, polygonCorners, slotOutline } from "../shapes";
import { aligned, arcLine, centreArc } from "./lines";
import { circleLine } from "./rounds";
import { distance, widthAt, type DrawingTool, type Stroke } from "./tool";

const hasArea = ({ first, now }: Stroke) =>
  Math.min(Math.abs(now.at[0] - first.at[0]), Math.abs(now.at[1] - first.at[1])) > 1e-9;

export const rectangle: DrawingTool = {
  propose: ({ first, now }) => {
    const [dx, dy] = [now.at[0] - first.at[0], now.at[1] - first.at[1]];
    const corners = (
      [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
        [-1, -1],
      ] as const
    ).map(([sx, sy]): Vec2 => [first.at[0] + sx * dx, first.at[1] + sy * dy]);
    return { lines: [corners], tags: ["h", "v", "m"] };
  },
  complete: (stroke) =>
    hasArea(stroke)
      ? { label: "Draw a rectangle", next: [], change: (s) => addRectangle(s, stroke.first, stroke.now.at) }
      : null,
};

export const cornerRectangle: DrawingTool = {
  propose: ({ first, now }, tags) => {
    const [[x0, y0], [x1, y1]] = [first.at, now.at];
    return {
      lines: [
        [
          [x0, y0],
          [x1, y0],
          [x1, y1],
          [x0, y1],
          [x0, y0],
        ],
      ],
      tags: ["h", "v", ...tags],
    };
  },
  complete: (stroke) =>
    hasArea(stroke)
      ? { label: "Draw a rectangle", next: [], change: (s) => addCornerRectangle(s, stroke.first, stroke.now) }
      : null,
};

export const slot: DrawingTool = {
  propose: ({ sketch, first, second, now, held }) => {
    const { at, level } = second === undefined ? aligned(sketch, first, now, held.alt) : { at: second.at, level: null };
    const other: Vec2 = [2 * first.at[0] - at[0], 2 * first.at[1] - at[1]];
    const radius = second === undefined ? distance(first.at, at) / 4 : widthAt(other, at, now.at);
    const [p1, p2, p3, p4] = slotOutline(other, at, radius) as [Vec2, Vec2, Vec2, Vec2];
    const cap = (center: Vec2, a: Vec2, b: Vec2) => arcLine(a, b, { center, radius, counterClockwise: true });
    return {
      lines: [[other, at], [p1, p2], cap(at, p3, p2), [p3, p4], cap(other, p1, p4)],
      tags: level === null ? ["m"] : ["m", level[0]!],
    };
  },
  complete: ({ sketch, first, second, now, held }) => {
    if (second === undefined) return null;
    const { at, level } = aligned(sketch, first, { at: second.at }, held.alt);
    const other: Vec2 = [2 * first.at[0] - at[0], 2 * first.at[1] - at[1]];
    const half = widthAt(other, at, now.at);
    return half < 1e-9 ? null : { label: "Draw a slot", next: [], change: (s) => addSlot(s, first, at, half, level) };
  },
};

export const arcSlot: DrawingTool = {
  propose: ({ first, second, third, now }, tags) => {
    if (second === undefined) return { lines: [[first.at, now.at]], tags };
    const arc = centreArc(first.at, second.at, third?.at ?? now.at, false);
    const middle = arcLine(second.at, arc.end, arc.shape);
    const half = third === undefined ? 0 : Math.abs(distance(first.at, now.at) - arc.shape.radius);
    const beside = (side: number) =>
      middle.map((p): Vec2 => {
        const r = distance(p, first.at) || 1;
        return [
          first.at[0] + ((p[0] - first.at[0]) * (r + side * half)) / r,
          first.at[1] + ((p[1] - first.at[1]) * (r + side * half)) / r,
        ];
      });
    return { lines: half > 0 ? [beside(1), beside(-1)] : [middle], tags };
  },
  complete: ({ first, second, third, now }) => {
    if (second === undefined || third === undefined) return null;
    const middle = distance(first.at, second.at);
    const half = Math.abs(distance(first.at, now.at) - middle);
    return half < 1e-9 || half >= middle
      ? null
      : { label: "Draw a slot", next: [], change: (s) => addArcSlot(s, first, second.at, third.at, half) };
  },
};

export const polygon: DrawingTool = {
  propose: ({ first, now, held }) => {
    const corners = polygonCorners(first.at, now.at, held.sides, held.shift);
    return {
      lines: [[...corners, corners[0]!], circleLine(first.at, distance(first.at, now.at))],
      tags: ["e", held.shift ? "t" : "o"],
    };
  },
  complete: ({ first, now, held }) =>
    distance(first.at, now.at) > 1e-9
      ? { label: "Draw a polygon", next: [], change: (s) => addPolygon(s, first, now.at, held.sides, held.shift) }
      : null,
};
