/** What makes a step of this kind. */
import { add, profileFor } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { newEmbossed } from "./new";

function addEmbossed(): void {
  const { selected } = useView.getState();
  const { result } = usePart.getState();
  add("Raise an area", (p) => {
    const profile = profileFor(p);
    return profile === null ? null : newEmbossed(p, result, selected, profile);
  });
}

export const commands: Command[] = [
  {
    id: "embossed",
    title: "Raised area",
    detail: "An outline carried onto a body's side, raised or sunk by a height that follows it",
    intent: "Shape",
    keys: "shift+B",
    fits: { section: 6, drawing: 9, solid: 12 },
    run: addEmbossed,
  },
];
