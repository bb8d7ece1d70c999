/** A bend program as it was played: what the server answers, and how things stand at any time between its moments. */
import type { Vec3 } from "../../api/types";

export interface Hit {
  text: string;
  part: string;
  moment: number;
  station: number;
  row: number;
  point: Vec3;
}

export interface MachineBox {
  name: string;
  low: Vec3;
  high: Vec3;
  moves: string;
}

/** Lengths in mm, angles in radians, times in seconds; the columns from `rows` on are of equal length. */
export interface Run {
  machine: string;
  outside: number;
  floor: number;
  drop: number;
  opening: number;
  die_height: number;
  boxes: MachineBox[];
  phases: string[];
  fronts: Vec3[][];
  rows: number[];
  phase: number[];
  shift: number[];
  turn: number[];
  bend: number[];
  radius: number[];
  tool: number[];
  carriage: number[];
  arm: number[];
  seconds: number[];
  hits: Hit[];
}

const MOVING = ["shift", "turn", "bend", "radius", "tool", "carriage", "arm"] as const;

export type Pose = Record<(typeof MOVING)[number], number> & { row: number; phase: string };

/** The last moment that has begun by then. */
export function momentAt(run: Run, seconds: number): number {
  let low = 0;
  let high = run.seconds.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (run.seconds[middle]! <= seconds) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** How tube and machine stand at a time: between two moments of one phase part of the way. */
export function poseAt(run: Run, seconds: number): Pose {
  const i = momentAt(run, seconds);
  const next = i + 1;
  const goesOn = run.rows[next] === run.rows[i] && run.phase[next] === run.phase[i];
  const [from, to] = [run.seconds[i]!, run.seconds[next] ?? 0];
  const share = goesOn && to > from ? Math.min(Math.max((seconds - from) / (to - from), 0), 1) : 0;
  const at = (name: (typeof MOVING)[number]) =>
    run[name][i]! + share * ((goesOn ? run[name][next]! : 0) - run[name][i]!);
  const moving = Object.fromEntries(MOVING.map((name) => [name, share === 0 ? run[name][i]! : at(name)]));
  return {
    ...(moving as Record<(typeof MOVING)[number], number>),
    row: run.rows[i]!,
    phase: run.phases[run.phase[i]!]!,
  };
}

/** What has been met by then in the bend that is on. */
export function metBy(run: Run, seconds: number): Hit[] {
  const i = momentAt(run, seconds);
  return run.hits.filter((h) => h.row === run.rows[i] && h.moment <= i);
}

/** The times at which phases begin, and the end. */
export function beginnings(run: Run): number[] {
  const starts = run.phase.flatMap((phase, i) =>
    i === 0 || phase !== run.phase[i - 1] || run.rows[i] !== run.rows[i - 1] ? [run.seconds[i]!] : [],
  );
  return [...starts, run.seconds.at(-1) ?? 0];
}

/** The room that machine and tube take: what of the machine is near the die, and all that the tube reaches. */
export function roomOf(run: Run): [Vec3, Vec3] {
  const reach = Math.max(...run.fronts.map((front) => Math.max(...front.map((p) => Math.hypot(...p)))), 200);
  return [
    [-0.5 * reach, -0.5 * reach, Math.max(run.floor, -0.5 * reach)],
    [0.6 * reach, 0.6 * reach, 0.4 * reach],
  ];
}
