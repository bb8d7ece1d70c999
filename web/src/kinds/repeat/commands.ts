/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { newRepeat } from "./new";

function addRepeat(): void {
  const { selected } = useView.getState();
  add("Add copies along a path", (p) => newRepeat(p, selected));
}

export const commands: Command[] = [
  {
    id: "repeat",
    title: "Repeat along a path",
    detail: "Copies of a body by count or spacing, turned with the path or held",
    intent: "Repeat",
    keys: "L",
    fits: { path: 5, swept: 1, solid: 1 },
    run: addRepeat,
  },
];
