/** What makes a step of this kind. */
import { add, profileFor } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newRevolve } from "./new";

function addRevolve(): void {
  add("Add a revolved body", (p) => {
    const profile = profileFor(p);
    return profile === null ? null : newRevolve(p, profile);
  });
}

export const commands: Command[] = [
  {
    id: "revolve",
    title: "Revolve a profile",
    detail: "Round a line of its sketch, all round or by an angle",
    intent: "Shape",
    keys: "Z",
    fits: { drawing: 7 },
    run: addRevolve,
  },
];
