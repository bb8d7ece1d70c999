/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { newCombined } from "./new";

function addCombined(): void {
  const { selected } = useView.getState();
  const { result } = usePart.getState();
  add("Put bodies together", (p) => newCombined(p, result, selected));
}

export const commands: Command[] = [
  {
    id: "combined",
    title: "Put bodies together",
    detail: "Bodies that stand apart: added, cut out of each other, or what they have in common",
    intent: "Shape",
    keys: "shift+C",
    fits: { swept: 7, solid: 6 },
    run: addCombined,
  },
];
