/** What makes a step of this kind, and opens it. */
import { add, begin } from "../../commands/add";
import type { Command } from "../../commands/command";
import { isDrawn, sourceOf } from "../../state/drawings";
import { givesOf } from "../../state/fields";
import { stepOf, usePart } from "../../state/part";
import { useView } from "../../state/view";
import { sketchOnFace } from "../together";
import { newSketch } from "./new";

type Principal = "XY" | "XZ" | "YZ";

function draw(label: string, make: Parameters<typeof add>[1]): void {
  const id = add(label, make);
  if (id !== null) useView.getState().sketch(id);
}

export function startPath(plane: Principal): void {
  draw("Add a path sketch", (p) => newSketch(p, { kind: "principal", plane }, "Path"));
}

function addSketchOn(plane: Principal): void {
  draw("Add a sketch", (p) => newSketch(p, { kind: "principal", plane }));
}

/** A sketch on the selected plane, or on the last one. */
function addProfile(): void {
  const { selected } = useView.getState();
  draw("Add a profile", (p) => {
    const planes = p.steps.filter((s) => givesOf(s) === "plane");
    const plane = planes.find((s) => s.id === selected) ?? planes.at(-1);
    return plane === undefined ? null : newSketch(p, { kind: "step", step: plane.id }, "Profile");
  });
}

/** A plane on the picked face and a sketch on that, opened. */
function drawOnFace(): void {
  const { face, sketch } = useView.getState();
  if (face === null) {
    usePart
      .getState()
      .say({
        level: "note",
        code: "missing-source",
        text: "A sketch on a face needs the face first.",
        way_out: "Click a flat face in the stage, then try again.",
        place: {},
      });
    return;
  }
  begin("Sketch on a face", (p) => sketchOnFace(p, face));
  sketch(useView.getState().selected);
}

function openSelected(): void {
  const { selected, sketch } = useView.getState();
  const step = stepOf(usePart.getState().document, selected);
  if (isDrawn(step)) sketch(sourceOf(step).id);
}

export const commands: Command[] = [
  {
    id: "sketch-front",
    title: "Sketch seen from the front",
    detail: "On the XZ plane",
    intent: "Draw",
    keys: "K",
    fits: { nothing: 1, solid: 2 },
    run: () => addSketchOn("XZ"),
  },
  {
    id: "sketch-top",
    title: "Sketch seen from the top",
    detail: "On the XY plane",
    intent: "Draw",
    fits: { nothing: 2 },
    run: () => addSketchOn("XY"),
  },
  {
    id: "sketch-right",
    title: "Sketch seen from the right",
    detail: "On the YZ plane",
    intent: "Draw",
    run: () => addSketchOn("YZ"),
  },
  {
    id: "profile",
    title: "Profile on the plane",
    detail: "A sketch on the selected or the last plane",
    intent: "Draw",
    keys: "O",
    fits: { plane: 1 },
    run: addProfile,
  },
  {
    id: "sketch-face",
    title: "Sketch on the picked face",
    detail: "Click a flat face first",
    intent: "Draw",
    keys: "shift+K",
    fits: { face: 0 },
    run: drawOnFace,
  },
  {
    id: "open-sketch",
    title: "Open the selected sketch",
    detail: "Draw in it",
    intent: "Draw",
    keys: "E",
    fits: { section: 2, drawing: 8 },
    run: openSelected,
  },
];
