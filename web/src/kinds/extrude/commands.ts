/** What makes a step of this kind. */
import { add, profileFor } from "../../commands/add";
import type { Command } from "../../commands/command";
import { sketchUse } from "../../state/roles";
import { useView } from "../../state/view";
import { newExtrude } from "./new";
import { isDrawn } from "../../state/drawings";

function addExtrude(): void {
  add("Add an extrusion", (p) => {
    const selected = p.steps.find((s) => s.id === useView.getState().selected);
    const open = isDrawn(selected) && sketchUse(selected).path && !sketchUse(selected).profile;
    const profile = open ? selected.id : profileFor(p);
    return profile === null ? null : { ...newExtrude(p, profile), surface: open };
  });
}

export const commands: Command[] = [
  {
    id: "extrude",
    title: "Extrude a profile",
    detail: "Straight, along its plane's normal; open curves to a surface",
    intent: "Shape",
    keys: "X",
    fits: { drawing: 6 },
    run: addExtrude,
  },
];
