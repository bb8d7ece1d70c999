/** "Show me": moves what is free gently to and fro, one free motion after the other. */
import type { Vec2 } from "../api/types";
import { useSketch } from "./sketchStore";
import { useSketchView } from "./sketchView";

const REACH_PX = 22;
const MOTION_MS = 900;

let running = 0;

export function startWiggle(): void {
  const { live, set } = useSketch.getState();
  const motions = live?.motions ?? [];
  if (motions.length === 0) return;
  const run = ++running;
  const began = performance.now();
  const frame = (now: number) => {
    const share = Math.max(0, now - began) / MOTION_MS; // a frame may have begun before the click was handled
    const motion = motions[Math.floor(share)];
    if (run !== running || motion === undefined) {
      if (run === running) set({ wiggle: null });
      return;
    }
    const reach = (REACH_PX / useSketchView.getState().scale) * Math.sin((share % 1) * 2 * Math.PI);
    set({
      wiggle: Object.fromEntries(Object.entries(motion).map(([id, [x, y]]) => [id, [x * reach, y * reach] as Vec2])),
    });
    requestAnimationFrame(frame);
  };
  requestAnimationFrame(frame);
}
