/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { newDivided } from "./new";

function addDivided(): void {
  const { selected } = useView.getState();
  const { result } = usePart.getState();
  add("Split a body", (p) => newDivided(p, result, selected));
}

export const commands: Command[] = [
  {
    id: "divided",
    title: "Split a body",
    detail: "By a plane, a surface or a sketch; the pieces on both sides are kept, or on one",
    intent: "Shape",
    keys: "shift+S",
    fits: { swept: 8, solid: 7, plane: 4 },
    run: addDivided,
  },
];
