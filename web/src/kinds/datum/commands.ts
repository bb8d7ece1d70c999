/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { useView } from "../../state/view";
import { datumWith, newDatum } from "./new";
import type { DatumPlane } from "./step";

function addDatum(by: DatumPlane["how"]["by"]): void {
  const { selected, face } = useView.getState();
  add("Add a plane", (p) => newDatum(p, by, selected, face));
}

/** Waits for a round edge in the stage. */
function addInEdge(): void {
  useView.getState().set({
    pick: {
      want: "edge",
      before: null,
      label: "Pick a round edge",
      take: (step, edge, seen) => {
        useView.getState().set({ pick: null });
        add("Add a plane", (p) => datumWith(p, { by: "round", edge: { step, edge, seen: seen ?? null }, over: false }));
      },
    },
  });
}

export const commands: Command[] = [
  {
    id: "datum-offset",
    title: "Plane beside another",
    detail: "Moved along its normal; drag it in the stage",
    intent: "Lay out",
    keys: "B",
    fits: { face: 2, plane: 2 },
    run: () => addDatum("offset"),
  },
  {
    id: "datum-points",
    title: "Plane through three points",
    detail: "Points of sketches",
    intent: "Lay out",
    run: () => addDatum("points"),
  },
  {
    id: "datum-line",
    title: "Plane about a line at an angle",
    detail: "A line of a sketch",
    intent: "Lay out",
    run: () => addDatum("line"),
  },
  {
    id: "datum-midway",
    title: "Plane midway between two",
    detail: "Or in the middle of their angle",
    intent: "Lay out",
    run: () => addDatum("midway"),
  },
  {
    id: "datum-angle",
    title: "Plane turned out of another",
    detail: "By an angle about its x or y axis",
    intent: "Lay out",
    run: () => addDatum("angle"),
  },
  {
    id: "datum-normal",
    title: "Plane by point and normal",
    detail: "Typed numbers",
    intent: "Lay out",
    run: () => addDatum("normal"),
  },
  {
    id: "datum-face",
    title: "Plane on the picked face",
    detail: "Click a flat face first",
    intent: "Lay out",
    keys: "G",
    fits: { face: 1 },
    run: () => addDatum("face"),
  },
  {
    id: "datum-round",
    title: "Plane in a round edge",
    detail: "About its centre: where a fitting or a hose goes on",
    intent: "Lay out",
    keys: "shift+G",
    run: addInEdge,
  },
];
