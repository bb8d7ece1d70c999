/** The section of a sweep as it stands at a station. */
import type { SweepData, Vec2 } from "../api/types";
import { sampleAt, valueAt } from "../geometry/space";

export type Map2 = SweepData["lanes"]["map"][number];

/** What the motion does to the section's plane at a station. */
export function mapAt({ lanes }: SweepData, station: number): Map2 {
  return [0, 1, 2, 3].map(
    (k) =>
      valueAt(
        lanes,
        lanes.map.map((m) => m[k]!),
        station,
      ) ?? 0,
  ) as Map2;
}

export const mapped = ([a, b, c, d]: Map2, [x, y]: Vec2): Vec2 => [a * x + b * y, c * x + d * y];

/** The outline on the motion's own axes: as drawn, unless rails bend it. */
export function loopsAt({ lanes, section }: SweepData, station: number): Vec2[][] {
  const { bending } = lanes;
  if (!bending || !section.lift) return section.loops;
  const [i, share] = sampleAt(lanes.station, station);
  const now = bending[i]!.map(([x, y], k): Vec2 => {
    const [u, v] = bending[i + 1]?.[k] ?? [x, y];
    return [x + (u - x) * share, y + (v - y) * share];
  });
  return section.loops.map((loop, l) =>
    loop.map(([x, y], p): Vec2 => {
      const lift = section.lift![l]![p]!;
      return lift.reduce(([u, v], z, k): Vec2 => [u + z * now[k]![0], v + z * now[k]![1]], [x, y]);
    }),
  );
}

/** The length of outlines from end to end, or all round. */
export function lengthOf(loops: Vec2[][], open: boolean): number {
  const steps = loops.flatMap((loop) =>
    loop.slice(open ? 1 : 0).map(([x, y], i) => {
      const [u, v] = open ? loop[i]! : loop.at(i - 1)!;
      return Math.hypot(x - u, y - v);
    }),
  );
  return steps.reduce((sum, s) => sum + s, 0);
}

/** The area inside outlines, islands left out. */
export function areaOf(loops: Vec2[][]): number {
  return Math.abs(
    loops.reduce(
      (sum, loop) =>
        sum +
        loop.reduce((s, [x, y], i) => {
          const [u, v] = loop[(i + 1) % loop.length]!;
          return s + (x * v - u * y) / 2;
        }, 0),
      0,
    ),
  );
}
