/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newPeg } from "./new";

export const commands: Command[] = [
  {
    id: "peg",
    title: "Peg",
    detail: "Round, on a plane",
    intent: "Shape",
    run: () => void add("Add a peg", newPeg),
  },
];
