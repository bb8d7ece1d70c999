/** Places along a chain of edges, by the share of its length. */
import type { Expression, Units, Vec3 } from "../../api/types";
import { inMm } from "../../ui/format";

const between = (a: Vec3, b: Vec3, t: number): Vec3 => a.map((v, i) => v + t * (b[i]! - v)) as Vec3;
const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** How far along the chain each of its points is, from 0 to its length. */
function gone(chain: Vec3[]): number[] {
  const away = [0];
  for (let i = 1; i < chain.length; i++) away.push(away[i - 1]! + Math.hypot(...minus(chain[i]!, chain[i - 1]!)));
  return away;
}

export function placeAt(chain: Vec3[], share: number): Vec3 {
  const away = gone(chain);
  const wanted = Math.min(1, Math.max(0, share)) * away.at(-1)!;
  const i = Math.max(
    1,
    away.findIndex((a) => a >= wanted),
  );
  const run = away[i]! - away[i - 1]!;
  return between(chain[i - 1]!, chain[i]!, run === 0 ? 0 : (wanted - away[i - 1]!) / run);
}

/** The share at which the chain passes nearest to a ray, whose direction has length 1. */
export function shareNear(chain: Vec3[], origin: Vec3, direction: Vec3): number {
  const away = gone(chain);
  let best = { off: Infinity, at: 0 };
  for (let i = 1; i < chain.length; i++) {
    const [a, b] = [chain[i - 1]!, chain[i]!];
    // seen along the ray, the stretch is a flat one: what of it is nearest to the point that the ray is
    const flat = (p: Vec3): Vec3 => {
      const w = minus(p, origin);
      return minus(w, direction.map((v) => v * dot(w, direction)) as Vec3);
    };
    const [p, d] = [flat(a), minus(flat(b), flat(a))];
    const t = Math.min(1, Math.max(0, -dot(p, d) / Math.max(dot(d, d), 1e-12)));
    const off = Math.hypot(...between(p, flat(b), t));
    if (off < best.off) best = { off, at: away[i - 1]! + t * (away[i]! - away[i - 1]!) };
  }
  return best.at / away.at(-1)!;
}

/** The share that a place in a table is; null of an expression that only the program works out. */
export function shareOf(at: Expression, length: number, units: Units): number | null {
  if (typeof at === "number") return inMm(at, units) / length;
  const percent = /^\s*([\d.]+)\s*%\s*$/.exec(at);
  return percent === null ? null : Number(percent[1]) / 100;
}
