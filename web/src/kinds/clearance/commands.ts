/** What makes a step of this kind. */
import { addOnPath } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newClearance } from "./new";

function addClearance(): void {
  addOnPath("Measure a clearance", newClearance);
}

export const commands: Command[] = [
  {
    id: "clearance",
    title: "Clearance along a path",
    detail: "How far a sweep, or a tube about a path, stays from other bodies",
    intent: "Route",
    keys: "S",
    fits: { path: 6, swept: 3 },
    run: addClearance,
  },
];
