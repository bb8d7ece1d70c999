/** What makes a step of this kind. */
import { add, begin } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { plainLoft } from "../together";
import { lastClosed, loftThrough } from "./new";

function addLoft(): void {
  const { document } = usePart.getState();
  if (document === null) return;
  const sections = lastClosed(document);
  if (sections.length > 0) add("Add a loft", (p) => loftThrough(p, sections));
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
