/** What makes a step of this kind. */
import type { DerivedStep } from "./step";
import { addOnPath, begin } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { copyAlong } from "../together";
import { newDerived } from "./new";

function addDerived(by: DerivedStep["how"]["by"]): void {
  addOnPath("Add a path from another", (p, path) => newDerived(p, by, path));
}

export const commands: Command[] = [
  {
    id: "derived-piece",
    title: "Piece of a path",
    detail: "Between two stations, or where planes cut it",
    intent: "Route",
    run: () => addDerived("piece"),
  },
  {
    id: "derived-beside",
    title: "Path beside a path",
    detail: "At a distance, in its plane or at any angle about it",
    intent: "Route",
    keys: "Y",
    run: () => addDerived("beside"),
  },
  {
    id: "derived-mirror",
    title: "Mirrored path",
    detail: "Its image in a plane",
    intent: "Route",
    run: () => addDerived("mirror"),
  },
  {
    id: "copy-along",
    title: "Copy along a path",
    detail: "The selected plane, path or sketch at a station of a path",
    intent: "Repeat",
    keys: "shift+Y",
    fits: { plane: 7, path: 9, drawing: 9 },
    run: () => begin("Copy along a path", (p) => copyAlong(p, useView.getState().selected)),
  },
  {
    id: "derived-move",
    title: "Moved path",
    detail: "A copy moved and turned",
    intent: "Route",
    run: () => addDerived("move"),
  },
];
