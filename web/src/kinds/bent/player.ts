/** Which program is played in the stage, how far it is, and how fast it goes. */
import { create } from "zustand";
import type { Vec3 } from "../../api/types";
import { useView } from "../../state/view";
import { beginnings, roomOf, type Run } from "./run";

interface Player {
  run: Run | null;
  /** Since the program began, s. */
  at: number;
  going: boolean;
  /** Times as fast as the machine. */
  speed: number;
}

export const usePlayer = create<Player>(() => ({ run: null, at: 0, going: false, speed: 1 }));

const OPERATOR: Vec3 = [0.62, -0.7, 0.42]; // where one stands who looks at the die and at what comes out of it

const end = (run: Run | null) => run?.seconds.at(-1) ?? 0;

/** Put a program into the stage, at a time of it; it goes on when it is at its beginning. */
export function show(step: string, run: Run, at = 0): void {
  usePlayer.setState({ run, at, going: at === 0 });
  const view = useView.getState();
  view.set({ scene: { step, box: roomOf(run) }, station: null });
  view.ask({ kind: "look", from: OPERATOR });
}

/** Back to the part. */
export function close(): void {
  usePlayer.setState({ run: null, going: false, at: 0 });
  const view = useView.getState();
  view.set({ scene: null });
  view.ask({ kind: "look", view: "corner" });
}

export function seek(at: number): void {
  const { run } = usePlayer.getState();
  usePlayer.setState({ at: Math.min(Math.max(at, 0), end(run)), going: false });
}

/** Go or stand; at its end it begins anew. */
export function toggle(): void {
  const { run, at, going } = usePlayer.getState();
  usePlayer.setState({ going: !going, at: !going && at >= end(run) ? 0 : at });
}

/** To where the next phase begins, or the one before. */
export function step(way: 1 | -1): void {
  const { run, at } = usePlayer.getState();
  if (run === null) return;
  const starts = beginnings(run);
  const near = 1e-6;
  seek(
    (way > 0 ? starts.find((t) => t > at + near) : starts.findLast((t) => t < at - near)) ?? (way > 0 ? end(run) : 0),
  );
}

/** Some time has gone by in the stage; whether there is more to come. */
export function goOn(seconds: number): boolean {
  const { run, at, going, speed } = usePlayer.getState();
  if (!going || run === null) return false;
  const next = Math.min(at + speed * seconds, end(run));
  usePlayer.setState({ at: next, going: next < end(run) });
  return next < end(run);
}
