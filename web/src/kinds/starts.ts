/** What an empty part offers to begin with: a few steps that already make something. */
import type { Part, Step } from "../api/types";
import type { SweepStep } from "./sweep/step";
import { begin } from "../commands/add";
import { newHose } from "./hose/new";
import { newRoute, PLAIN_POINT } from "./route/new";
import { newSprung } from "./sprung/new";
import { newSweep, quickSection } from "./sweep/new";
import { newThreaded } from "./threaded/new";

const swept = (part: Part, path: string, name: string, patch: Partial<SweepStep>): SweepStep => ({
  ...newSweep(part, path, path),
  name,
  bring: null,
  ...patch,
});

export function startingTube(part: Part): Step[] {
  const route = newRoute(part, null);
  return [route, swept(part, route.id, "Tube", { profile: quickSection("round", 14), wall: 1.5 })];
}

export function startingHose(part: Part): Step[] {
  const hose = newHose(part);
  return [hose, swept(part, hose.id, "Hose body", { profile: quickSection("round", 16), wall: 2.5 })];
}

export function startingSpring(part: Part): Step[] {
  return [newSprung(part)];
}

/** A rod, and a thread on it that runs out before its end. */
export function startingThread(part: Part): Step[] {
  const axis = {
    ...newRoute(part, null),
    name: "Axis",
    radius: 0,
    points: [0, 30].map((z, i) => ({
      id: `q${i + 1}`,
      at: { by: "place" as const, x: 0, y: 0, z: part.units === "in" ? z / 25.4 : z },
      ...PLAIN_POINT,
    })),
  };
  const size = (mm: number) => (part.units === "in" ? `${mm} mm` : mm);
  const rod = swept(part, axis.id, "Rod", { profile: quickSection("round", size(10)) });
  const thread = { ...newThreaded(part, `${rod.id}/side/round/q1-q2`), length: size(20), tolerance: "6g" };
  return [axis, rod, thread];
}

export { startPath } from "./sketch/commands";
export const startTube = () => begin("Begin with a tube", startingTube);
export const startHose = () => begin("Begin with a hose", startingHose);
export const startSpring = () => begin("Begin with a spring", startingSpring);
export const startThread = () => begin("Begin with a thread", startingThread);
