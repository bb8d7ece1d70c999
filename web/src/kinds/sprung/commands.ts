/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newSprung } from "./new";

function addSprung(): void {
  add("Add a spring", newSprung);
}

export const commands: Command[] = [
  {
    id: "sprung",
    title: "Spring",
    detail: "Compression, extension or torsion, with its rate, its stress and its loads",
    intent: "Trade",
    keys: "shift+N",
    fits: { nothing: 4 },
    run: addSprung,
  },
];
