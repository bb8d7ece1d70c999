/** Drawing circles, rings and ellipses. */
import type { Vec2 } from "../../api/types";
import { addCircle, addRing } from "../edit/entities";
import { addEllipse, ellipseFor, ellipseLine } from "../shapes";
import { aligned } from "./lines";
import { distance, type DrawingTool } from "./tool";

export function circleLine(center: Vec2, radius: number): Vec2[] {
  return Array.from({ length: 65 }, (_, i) => [
    center[0] + radius * Math.cos((i * Math.PI) / 32),
    center[1] + radius * Math.sin((i * Math.PI) / 32),
  ]);
}

export const circle: DrawingTool = {
  propose: ({ first, now }, tags) => ({ lines: [circleLine(first.at, distance(first.at, now.at))], tags }),
  complete: ({ first, now }) => {
    const radius = distance(first.at, now.at);
    return radius > 1e-9
      ? { label: "Draw a circle", next: [], change: (s) => addCircle(s, first, radius).sketch }
      : null;
  },
};

export const ring: DrawingTool = {
  propose: ({ first, second, now }) => {
    const radii =
      second === undefined ? [distance(first.at, now.at)] : [distance(first.at, second.at), distance(first.at, now.at)];
    return { lines: radii.map((r) => circleLine(first.at, r)), tags: [] };
  },
  complete: ({ first, second, now }) => {
    if (second === undefined) return null;
    const [a, b] = [distance(first.at, second.at), distance(first.at, now.at)];
    const [outer, inner] = [Math.max(a, b), Math.min(a, b)];
    if (outer - inner < 1e-9 || inner < 1e-9) return null;
    return { label: "Draw a ring", next: [], change: (s) => addRing(s, first, outer, inner) };
  },
};

export const ellipse: DrawingTool = {
  propose: ({ sketch, first, second, now, held }, tags) => {
    const tip = second === undefined ? aligned(sketch, first, now, held.alt).at : second.at;
    const shape =
      second === undefined
        ? { major: tip, minor: distance(first.at, tip) / 2 }
        : ellipseFor(first.at, second.at, now.at);
    return { lines: [[first.at, tip], ...(shape === null ? [] : [ellipseLine(first.at, shape)])], tags };
  },
  complete: ({ sketch, first, second, now, held }) => {
    if (second === undefined) return null;
    const { at, level } = aligned(sketch, first, second, held.alt);
    const shape = ellipseFor(first.at, at, now.at);
    return shape === null
      ? null
      : {
          label: "Draw an ellipse",
          next: [],
          change: (s) => addEllipse(s, first, { ...second, at }, shape.minor, level),
        };
  },
};
