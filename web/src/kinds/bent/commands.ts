/** What makes a step of this kind. */
import { addOnPath } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newBent } from "./new";

export const commands: Command[] = [
  {
    id: "bent",
    title: "Bend a tube",
    detail: "The bender's program with springback, what it checks, and the cutting list",
    intent: "Trade",
    keys: "shift+D",
    fits: { path: 2, swept: 2 },
    run: () => addOnPath("Bend a tube", newBent),
  },
];
