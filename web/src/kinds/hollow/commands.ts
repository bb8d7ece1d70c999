/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { newHollow } from "./new";

function addHollow(): void {
  const { selected, face } = useView.getState();
  const { result } = usePart.getState();
  add("Make a body hollow", (p) => newHollow(p, result, selected, face));
}

export const commands: Command[] = [
  {
    id: "hollow",
    title: "Make a body hollow",
    detail: "A wall inside or outside of its faces, some of them left open",
    intent: "Shape",
    keys: "shift+H",
    fits: { swept: 5, solid: 4 },
    run: addHollow,
  },
];
