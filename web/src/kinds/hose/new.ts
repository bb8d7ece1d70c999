/** A new step of this kind, as it is to begin with. */
import type { Part, Step } from "../../api/types";
import type { HoseStep, Port } from "./step";
import { givesOf } from "../../state/fields";
import { beginning } from "../../state/beginning";

const port = (x: number, y: number, z: number, dx: number, dz: number): Port => ({
  at: { by: "place", x, y, z, dx, dy: 0, dz },
  reverse: false,
  straight: 20,
  pull: 1,
});

/** A hose between two ports; on the last two planes of the part, if it has them. */
export function newHose(part: Part): HoseStep {
  const planes = part.steps.filter((s) => givesOf(s) === "plane").slice(-2);
  const onPlane = (s: Step): Port => ({
    at: { by: "plane", plane: { kind: "step", step: s.id } },
    reverse: false,
    straight: 20,
    pull: 1,
  });
  const [start, end] = planes.length === 2 ? planes.map(onPlane) : [port(0, 0, 0, 1, 0), port(160, 60, 90, 0, -1)];
  return { ...beginning(part, "hose", "Hose"), start: start!, end: end! };
}
