/** What makes a step of this kind. */
import { add, begin } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { plainLoft } from "../together";
import { loftOfDrawn } from "./new";

function addLoft(): void {
  const { document } = usePart.getState();
  if (document === null) return;
  const made = loftOfDrawn(document);
  if (made !== null) add("Add a loft", () => made);
  else begin("Add a loft", plainLoft);
}

export const commands: Command[] = [
  {
    id: "loft",
    title: "Loft through sections",
    detail: "One section goes over into the next; a centreline and rails if there are any",
    intent: "Shape",
    keys: "shift+L",
    fits: { section: 3, drawing: 7, other: 4 },
    run: addLoft,
  },
];
