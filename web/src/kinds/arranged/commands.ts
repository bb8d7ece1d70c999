/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { newArranged, type How } from "./new";

function addArranged(label: string, by: How["by"]): void {
  const { selected } = useView.getState();
  const { result } = usePart.getState();
  add(label, (p) => newArranged(p, result, selected, by));
}

export const commands: Command[] = [
  {
    id: "mirror",
    title: "Mirror a body",
    detail: "Its image in a plane, beside it or as one body with it",
    intent: "Repeat",
    keys: "shift+M",
    fits: { swept: 9, solid: 8 },
    run: () => addArranged("Mirror a body", "mirror"),
  },
  {
    id: "move",
    title: "Move or copy a body",
    detail: "Shifted and turned, as a plane says",
    intent: "Repeat",
    keys: "shift+V",
    fits: { solid: 9 },
    run: () => addArranged("Move a body", "move"),
  },
  {
    id: "rows",
    title: "Copies in rows",
    detail: "So many along the two directions of a plane",
    intent: "Repeat",
    keys: "shift+W",
    fits: { solid: 10 },
    run: () => addArranged("Copy in rows", "rows"),
  },
  {
    id: "round",
    title: "Copies round an axis",
    detail: "So many round the normal of a plane, rising along it if need be",
    intent: "Repeat",
    keys: "shift+O",
    fits: { solid: 11 },
    run: () => addArranged("Copy round an axis", "round"),
  },
];
