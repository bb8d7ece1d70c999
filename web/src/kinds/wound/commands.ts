/** What makes a step of this kind. */
import { add, pathFor } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { newWound } from "./new";

function addWound(): void {
  const { selected } = useView.getState();
  add("Add a wound path", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newWound(p, path, usePart.getState().result);
  });
}

export const commands: Command[] = [
  { id: "wound", title: "Wound path", detail: "A coil about any other path, or about a drawn former", intent: "Route", keys: "U", run: addWound },
];
