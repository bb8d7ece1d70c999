/** What makes a step of this kind. */
import { add, pathFor } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { newProjected } from "./new";

function addProjected(): void {
  const { selected } = useView.getState();
  add("Lay a path onto a surface", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newProjected(p, path);
  });
}

export const commands: Command[] = [
  { id: "projected", title: "Path on a surface", detail: "A path laid onto the sides of a body, along a direction or at the nearest place", intent: "Route", keys: "D", run: addProjected },
];
