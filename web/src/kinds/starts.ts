/** What an empty part offers to begin with: a few steps that already make something. */
import type { Part, Step } from "../api/types";
import type { HelixStep } from "./helix/step";
import type { SweepStep } from "./sweep/step";
import { begin } from "../commands/add";
import { newHose } from "./hose/new";
import { newRoute, PLAIN_POINT } from "./route/new";
import { newHelix } from "./helix/new";
import { newSprung } from "./sprung/new";
import { newSweep, quickSection } from "./sweep/new";

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

/** A rod, and a groove cut along a helix in it. */
export function startingThread(part: Part): Step[] {
  const core: HelixStep = { ...newHelix(part), name: "Thread line", radius: 10, pitch: 2, turns: 8 };
  const axis = {
    ...newRoute(part, null),
    name: "Axis",
    radius: 0,
    points: [0, 24].map((z, i) => ({
      id: `q${i + 1}`,
      at: { by: "place" as const, x: 0, y: 0, z: z - 4 },
      ...PLAIN_POINT,
    })),
  };
  const rod = swept(part, axis.id, "Rod", { profile: quickSection("round", 20) });
  const groove = swept({ ...part, steps: [...part.steps, rod] }, core.id, "Groove", {
    profile: quickSection("rectangle", 2.4, 1),
    orientation: "upright",
    up: { by: "axis", axis: "Z" },
    result: "cut",
  });
  return [axis, rod, core, groove];
}

export { startPath } from "./sketch/commands";
export const startTube = () => begin("Begin with a tube", startingTube);
export const startHose = () => begin("Begin with a hose", startingHose);
export const startSpring = () => begin("Begin with a spring", startingSpring);
export const startThread = () => begin("Begin with a thread", startingThread);
