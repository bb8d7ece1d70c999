/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { threads } from "../../state/roles";
import { newJoined } from "./new";

function addJoined(): void {
  add("Add a joined path", (p) => newJoined(p, new Set(threads(p).map((t) => t.to))));
}

export const commands: Command[] = [
  {
    id: "joined",
    title: "Joined path",
    detail: "Paths and sketches put in order end to end",
    intent: "Route",
    keys: "I",
    run: addJoined,
  },
];
