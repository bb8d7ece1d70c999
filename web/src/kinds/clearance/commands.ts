/** What makes a step of this kind. */
import { add, pathFor } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { newClearance } from "./new";

function addClearance(): void {
  const { selected } = useView.getState();
  add("Measure a clearance", (p) => {
    const path = pathFor(p, selected);
    return path === null ? null : newClearance(p, path);
  });
}

export const commands: Command[] = [
  { id: "clearance", title: "Clearance along a path", detail: "How far a sweep, or a tube about a path, stays from other bodies", intent: "Route", keys: "S", run: addClearance },
];
