/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { newThickened } from "./new";

function addThickened(): void {
  const { selected } = useView.getState();
  add("Thicken a surface", (p) => newThickened(p, selected));
}

export const commands: Command[] = [
  {
    id: "thickened",
    title: "Thicken a surface",
    detail: "A solid of true thickness on one side of it or on both, even or by a table along its path",
    intent: "Shape",
    keys: "shift+T",
    fits: { swept: 4 },
    run: addThickened,
  },
];
