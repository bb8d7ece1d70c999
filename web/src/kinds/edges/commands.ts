/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { isBody } from "../../state/bodies";
import { useView } from "../../state/view";
import { newEdges } from "./new";

/** Waits for an edge in the stage, then makes a path of it. */
function addEdges(): void {
  const { document, say } = usePart.getState();
  if (!document?.steps.some(isBody)) {
    say({
      level: "note",
      code: "missing-source",
      text: "A path of edges needs a body first.",
      way_out: "Sweep, extrude or revolve one, then try again.",
      place: {},
    });
    return;
  }
  say({
    level: "note",
    code: "pick-edge",
    text: "Click the edge that the path is to follow.",
    way_out: "Esc leaves it.",
    place: {},
  });
  useView.getState().set({
    pick: {
      want: "edge",
      before: null,
      label: "Pick the first edge",
      take: (step, edge, seen) => {
        useView.getState().set({ pick: null });
        add("Add a path along edges", (p) => newEdges(p, { step, edge, seen: seen ?? null }));
      },
    },
  });
}

export const commands: Command[] = [
  {
    id: "edges",
    title: "Path along edges",
    detail: "Edges of a body picked in the stage, with those that go on smoothly",
    intent: "Route",
    keys: "shift+E",
    run: addEdges,
  },
];
