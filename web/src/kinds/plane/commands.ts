/** What makes a step of this kind. */
import { addOnPath } from "../../commands/add";
import type { Command } from "../../commands/command";
import { newPlane } from "./new";

function addPlane(): void {
  addOnPath("Add a plane square to the path", newPlane);
}

export const commands: Command[] = [
  {
    id: "plane",
    title: "Plane square to a path",
    detail: "At its start, its end or any station",
    intent: "Lay out",
    keys: "P",
    fits: { drawing: 3, path: 3, swept: 5, other: 3 },
    run: addPlane,
  },
];
