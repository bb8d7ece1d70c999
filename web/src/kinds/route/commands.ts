/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { newRoute } from "./new";

function addRoute(): void {
  const { selected } = useView.getState();
  add("Add a path through points", (p) => newRoute(p, selected));
}

export const commands: Command[] = [
  {
    id: "route",
    title: "Path through points",
    detail: "Straight runs with a bend at each corner, from points typed, drawn or in a file",
    intent: "Route",
    keys: "T",
    fits: { nothing: 3, drawing: 5 },
    run: addRoute,
  },
];
