/** What makes a step of this kind. */
import { addOnPath } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { newWound } from "./new";

function addWound(): void {
  addOnPath("Add a wound path", (p, path) => newWound(p, path, usePart.getState().result));
}

export const commands: Command[] = [
  {
    id: "wound",
    title: "Wound path",
    detail: "A coil about any other path, or about a drawn former",
    intent: "Route",
    keys: "U",
    fits: { drawing: 4, path: 4, swept: 2 },
    run: addWound,
  },
];
