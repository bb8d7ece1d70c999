/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { newThreaded } from "./new";

const LABEL = "Pick a round face of a bar or of a hole";

/** On the picked face; without one, waits for it in the stage. */
function addThreaded(): void {
  const { face, set } = useView.getState();
  const take = (picked: string) => add("Add a thread", (p) => newThreaded(p, picked));
  if (face !== null) {
    take(face);
    return;
  }
  set({
    pick: {
      want: "face",
      before: null,
      label: LABEL,
      take: (_, picked) => {
        useView.getState().set({ pick: null });
        take(picked);
      },
    },
  });
}

export const commands: Command[] = [
  {
    id: "threaded",
    title: "Thread on a round face",
    detail: "Metric, inch, trapezoidal, pipe or a groove of one's own; real or drawn only",
    intent: "Trade",
    keys: "shift+J",
    fits: { face: 3, swept: 2 },
    run: addThreaded,
  },
];
