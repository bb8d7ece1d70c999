/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newHose } from "./new";

function addHose(): void {
  add("Add a hose", newHose);
}

export const commands: Command[] = [
  {
    id: "hose",
    title: "Hose between two ports",
    detail: "A smooth curve with a straight at each end, shaped or as an elastic rod of given length",
    intent: "Route",
    keys: "J",
    fits: { nothing: 4 },
    run: addHose,
  },
];
