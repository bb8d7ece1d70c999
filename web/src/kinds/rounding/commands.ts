/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { isBody } from "../../state/bodies";
import { newRounding } from "./new";
import type { RoundingStep } from "./step";

function addRound(how: RoundingStep["how"]): void {
  add(how.by === "chamfer" ? "Chamfer edges" : "Round edges", (p) =>
    p.steps.some(isBody) ? newRounding(p, how) : null,
  );
}

export const commands: Command[] = [
  {
    id: "round-edges",
    title: "Round edges",
    detail: "By one radius, or by radii along them; edges are picked in the stage",
    intent: "Shape",
    keys: "shift+R",
    fits: { swept: 3, solid: 3 },
    run: () => addRound({ by: "even", radius: 2 }),
  },
  {
    id: "chamfer-edges",
    title: "Chamfer edges",
    detail: "Cut off flat, by one size or two",
    intent: "Shape",
    run: () => addRound({ by: "chamfer", first: 1, second: null, angle: null }),
  },
];
