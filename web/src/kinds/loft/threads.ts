/** Where the threads of a loft are, and what becomes of them and of its ends when they are dragged. */
import type { ResultOf, Vec3 } from "../../api/types";
import type { LoftStep } from "./step";

/** What the server tells of a loft. */
export type LoftShown = ResultOf<"loft">;

type Threads = LoftStep["threads"];

const NEAR = 1e-3; // of the way to the next section, by which a line's direction is told
const LEAST = 0.1;
const MOST = 2.5;
const tidy = (v: number) => Number(v.toFixed(4));

/** The threads as they are shown, but for those on rails, as the step's own. */
export const threadsOf = (shown: LoftShown): Threads =>
  (shown.shares ?? []).slice(0, (shown.shares?.length ?? 0) - (shown.on_rails ?? 0)).map((shares) => ({ shares }));

const minus = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vec3, b: Vec3) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The share of an outline, given by points at even shares, at which it is nearest to a place. */
export function nearestShare(ring: Vec3[], to: Vec3): number {
  let best = { away: Infinity, share: 0 };
  for (let k = 0; k + 1 < ring.length; k++) {
    const along = minus(ring[k + 1]!, ring[k]!);
    const size = dot(along, along);
    const t = size === 0 ? 0 : Math.min(1, Math.max(0, dot(minus(to, ring[k]!), along) / size));
    const gap = minus(minus(to, ring[k]!), along.map((v) => v * t) as Vec3);
    const away = dot(gap, gap);
    if (away < best.away) best = { away, share: (k + t) / (ring.length - 1) };
  }
  return isOpen(ring) ? best.share : best.share % 1;
}

/** Whether an outline, given by points all along it, has ends, which go with those of the other sections. */
export const isOpen = (ring: Vec3[]): boolean => {
  const apart = minus(ring.at(-1)!, ring[0]!);
  const first = minus(ring[1]!, ring[0]!);
  return dot(apart, apart) > 1e-6 * dot(first, first);
};

/**
 * The threads with one end of one of them taken to where the outline is nearest to a place; it stays between its
 * neighbours.
 */
export function dragged(threads: Threads, thread: number, section: number, ring: Vec3[], to: Vec3): Threads {
  const share = tidy(nearestShare(ring, to));
  const moved = threads.map((t, k) =>
    k === thread ? { shares: t.shares.map((v, i) => (i === section ? share : v)) } : t,
  );
  return inOrder(moved, section, isOpen(ring)) ? moved : threads;
}

/** Whether the threads go round a section, or from its start to its end, in their order. */
function inOrder(threads: Threads, section: number, open: boolean): boolean {
  const at = threads.map((t) => Number(t.shares[section]));
  if (open) return at.every((v, k) => k === 0 || v > at[k - 1]!);
  const turns = at.filter((v, k) => at[(k + 1) % at.length]! <= v).length;
  return turns <= 1;
}

/** The grip of an end that is square to its section: a third of the way to the next one for a strength of 1. */
export function endGrip(
  end: LoftStep["start"],
  shown: LoftShown,
  first: boolean,
): { at: Vec3; strength: (to: Vec3) => number } | null {
  const { lanes, stations } = shown;
  if (end.how === "free" || typeof end.strength !== "number" || lanes === undefined || !stations?.length) return null;
  const span = first ? stations[1]! - stations[0]! : stations.at(-1)! - stations.at(-2)!;
  const points = first ? lanes.point : [...lanes.point].reverse();
  const foot = points[0]!;
  const away = (p: Vec3) => Math.sqrt(dot(minus(p, foot), minus(p, foot)));
  const chord = minus(points.find((p) => away(p) > span * NEAR) ?? foot, foot);
  const size = Math.sqrt(dot(chord, chord));
  if (size === 0) return null;
  const way = chord.map((v) => v / size) as Vec3;
  const reach = (span / 3) * end.strength;
  return {
    at: foot.map((v, i) => v + reach * way[i]!) as Vec3,
    strength: (to) => tidy(Math.min(MOST, Math.max(LEAST, dot(minus(to, foot), way) / (span / 3)))),
  };
}
