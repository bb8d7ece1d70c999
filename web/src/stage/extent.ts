/** How much room the part takes, from what the builds say of its sketches and sweeps. */
import type { BuildData, Part, SketchData, SweepData, Vec3 } from "../api/types";
import { toSpace } from "./space";

export interface Extent {
  centre: Vec3;
  radius: number;
  floor: number;
}

export function extentOf(part: Part | null, result: BuildData | null): Extent {
  const low: Vec3 = [Infinity, Infinity, Infinity];
  const high: Vec3 = [-Infinity, -Infinity, -Infinity];
  const take = (p: Vec3, grow: number) => {
    for (let i = 0; i < 3; i++) {
      low[i] = Math.min(low[i]!, p[i]! - grow);
      high[i] = Math.max(high[i]!, p[i]! + grow);
    }
  };
  for (const step of part?.steps ?? []) {
    const data = result?.steps[step.id]?.data;
    if (!data) continue;
    const { curves, plane } = data as Partial<SketchData>;
    if (curves && plane) for (const c of Object.values(curves)) for (const p of c) take(toSpace(plane, p), 0);
    const { lanes, section } = data as Partial<SweepData>;
    if (lanes && section) {
      const grow = Math.hypot(section.width, section.height) / 2;
      for (const p of lanes.point) take(p, grow);
    }
  }
  if (!Number.isFinite(low[0])) return { centre: [0, 0, 0], radius: 120, floor: 0 };
  const centre = low.map((v, i) => (v + high[i]!) / 2) as Vec3;
  const radius = Math.max(5, Math.hypot(...low.map((v, i) => high[i]! - v)) / 2);
  return { centre, radius, floor: low[2] };
}
