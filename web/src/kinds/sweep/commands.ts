/** What makes a step of this kind. */
import { add, addOnPath, pathFor } from "../../commands/add";
import type { Command } from "../../commands/command";
import { usePart } from "../../state/part";
import { sketchUse } from "../../state/roles";
import { likelySources } from "../../state/steps";
import { useView } from "../../state/view";
import { roundAlong } from "../together";
import { newSweep, quickAlong } from "./new";

const FIRST_DIAMETER = 20;

function addSweep(): void {
  const { selected } = useView.getState();
  add("Add a sweep", (p) => {
    const { path, profile } = likelySources(p, selected);
    if (path === null || profile === null) return null;
    const use = sketchUse(p.steps.find((s) => s.id === profile));
    return { ...newSweep(p, path, profile), surface: !use.profile && !use.both };
  });
}

function addQuickAlong(): void {
  addOnPath("Quick section along the path", (p, path) => quickAlong(p, path, FIRST_DIAMETER));
}

function addRoundAlong(): void {
  const { document, change } = usePart.getState();
  const path = document === null ? null : pathFor(document, useView.getState().selected);
  if (document === null || path === null) return;
  const made = roundAlong(document, path, FIRST_DIAMETER);
  void change("Round section along the path", () => made.part);
  useView.getState().select(made.sweep);
}

export const commands: Command[] = [
  {
    id: "sweep",
    title: "Sweep a profile along a path",
    detail: "Add, cut or separate; twist; wall",
    intent: "Sweep",
    keys: "W",
    fits: { section: 1, path: 7, swept: 4, other: 1 },
    run: addSweep,
  },
  {
    id: "round",
    title: "Round section along the path",
    detail: "Plane, circle and sweep in one go",
    intent: "Sweep",
    keys: "R",
    fits: { drawing: 1, path: 2, other: 2 },
    run: addRoundAlong,
  },
  {
    id: "quick",
    title: "Quick section along the path",
    detail: "Round, rectangle or slot without a sketch",
    intent: "Sweep",
    keys: "Q",
    fits: { drawing: 2, path: 1 },
    run: addQuickAlong,
  },
];
