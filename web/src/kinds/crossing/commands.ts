/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newCrossing } from "./new";

function addCrossing(): void {
  add("Add the crossing of two surfaces", newCrossing);
}

export const commands: Command[] = [
  {
    id: "crossing",
    title: "Crossing of two surfaces",
    detail: "The curve in which the sides of two bodies cross, branch by branch",
    intent: "Route",
    keys: "V",
    run: addCrossing,
  },
];
