/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { choosePart } from "./choosing";
import { newPlaced } from "./new";

export const commands: Command[] = [
  {
    id: "placed",
    title: "Place a part",
    detail: "Another part of the list, at a plane, a face or on a path, with values of its own",
    intent: "Shape",
    keys: "shift+P",
    fits: { nothing: 8, plane: 7 },
    run: () => choosePart((chosen) => add("Place a part", (p) => newPlaced(p, chosen))),
  },
];
