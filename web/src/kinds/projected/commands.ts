/** What makes a step of this kind. */
import { addOnPath } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newProjected } from "./new";

function addProjected(): void {
  addOnPath("Lay a path onto a surface", newProjected);
}

export const commands: Command[] = [
  {
    id: "projected",
    title: "Path on a surface",
    detail: "A path laid onto the sides of a body, along a direction or at the nearest place",
    intent: "Route",
    keys: "D",
    run: addProjected,
  },
];
