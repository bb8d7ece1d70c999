/** Small vector helpers for what the stage draws. */
import type { Lanes, PlaneData, Vec2, Vec3 } from "../api/types";

export function toSpace(plane: PlaneData, [u, v]: Vec2): Vec3 {
  return [0, 1, 2].map((i) => plane.origin[i]! + u * plane.x[i]! + v * plane.y[i]!) as Vec3;
}

export function normalOf({ x, y }: PlaneData): Vec3 {
  return [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]];
}

export const PRINCIPAL: Record<string, PlaneData> = {
  XY: { origin: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0] },
  XZ: { origin: [0, 0, 0], x: [1, 0, 0], y: [0, 0, 1] },
  YZ: { origin: [0, 0, 0], x: [0, 1, 0], y: [0, 0, 1] },
};

export interface Frame {
  point: Vec3;
  x: Vec3;
  y: Vec3;
}

/** Index and share between the lanes' samples at a station. */
export function sampleAt(stations: number[], station: number): [index: number, share: number] {
  let low = 0;
  let high = stations.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (stations[middle]! <= station) low = middle;
    else high = middle;
  }
  const step = stations[high]! - stations[low]!;
  const share = step > 0 ? Math.min(1, Math.max(0, (station - stations[low]!) / step)) : 0;
  return [low, share];
}

export function frameAt(lanes: Pick<Lanes, "station" | "point" | "x" | "y">, station: number): Frame {
  const [i, share] = sampleAt(lanes.station, station);
  const mix = (rows: Vec3[]): Vec3 => {
    const a = rows[i]!;
    const b = rows[i + 1] ?? a;
    return [0, 1, 2].map((k) => a[k]! + (b[k]! - a[k]!) * share) as Vec3;
  };
  return { point: mix(lanes.point), x: mix(lanes.x), y: mix(lanes.y) };
}

export function valueAt(lanes: Pick<Lanes, "station">, lane: (number | null)[], station: number): number | null {
  const [i, share] = sampleAt(lanes.station, station);
  const a = lane[i] ?? null;
  const b = lane[i + 1] ?? a;
  if (a === null || b === null) return share < 0.5 ? a : b;
  return a + (b - a) * share;
}

/** Where polylines in space go through a plane, in the plane's own coordinates. */
export function crossings(plane: PlaneData, lines: Vec3[][]): Vec2[] {
  const n = normalOf(plane);
  const height = (p: Vec3) => n.reduce((sum, c, i) => sum + c * (p[i]! - plane.origin[i]!), 0);
  const flat = (p: Vec3): Vec2 =>
    [plane.x, plane.y].map((axis) => axis.reduce((sum, c, i) => sum + c * (p[i]! - plane.origin[i]!), 0)) as Vec2;
  const found: Vec2[] = [];
  for (const line of lines) {
    const all = line.every((p) => Math.abs(height(p)) < 1e-6);
    if (all) continue;
    for (let i = 0; i < line.length; i++) {
      const a = line[i]!;
      const ha = height(a);
      if (Math.abs(ha) < 1e-6) found.push(flat(a));
      const b = line[i + 1];
      if (b === undefined) continue;
      const hb = height(b);
      if (ha * hb < 0 && Math.abs(ha) >= 1e-6 && Math.abs(hb) >= 1e-6) {
        const t = ha / (ha - hb);
        found.push(flat([0, 1, 2].map((k) => a[k]! + (b[k]! - a[k]!) * t) as Vec3));
      }
    }
  }
  return found;
}
