/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newHelix } from "./new";

function addHelix(): void {
  add("Add a helix", newHelix);
}

export const commands: Command[] = [
  {
    id: "helix",
    title: "Helix",
    detail: "A coil about an axis: two of pitch, turns, height",
    intent: "Route",
    keys: "H",
    fits: { nothing: 5 },
    run: addHelix,
  },
];
