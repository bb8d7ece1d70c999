/** Every command of the sketch once: what the bars show, the keys reach and the search finds. */
import { createSpotlight } from "@mantine/spotlight";
import { api } from "../api/client";
import { Refusal } from "../api/refusal";
import type { Sketch, Vec2 } from "../api/types";
import { carrierOf, isDrawn } from "../state/drawings";
import { stepOf, usePart } from "../state/part";
import { saveText } from "../ui/saveText";
import { useView } from "../state/view";
import { ACTIONS, type SketchAction } from "./actions";
import { removeItems, toggleConstruction } from "./edit/constraints";
import { addConstraint, isPoint, pointAt } from "./edit/entities";
import { bounds } from "./place";
import { completeSpline } from "./drawing/drawing";
import { CONSTRAINTS, takesMany, TOOLS, type ConstraintEntry } from "./sketchKeys";
import { useSketch } from "./sketchStore";
import { useSketchView } from "./sketchView";
import { startWiggle } from "./wiggle";
import { edit, operate } from "./changes";
import { finishChain } from "./clicking";
import { drag, drop } from "./pulling";

export interface SketchCommand {
  id: string;
  title: string;
  key: string;
  detail: string;
  group: "Draw and edit" | "Constraints on what is selected" | "With what is selected" | "Sketch";
  run: () => void;
}

export const [finderStore, finder] = createSpotlight();

const CLIPBOARD = "leadline-sketch-clip";

const BARS_PX = 200; // what the tools at the left cover

/** Fit what is drawn on the screen, beside the tools. */
export function fitSketch(): void {
  const { live } = useSketch.getState();
  const view = useSketchView.getState();
  const box = live === null ? null : bounds(live);
  if (box === null) return view.set({ cx: 0, cy: 0, scale: Math.min(view.width, view.height) / 260 });
  const room = 1.75;
  const scale = Math.min(
    (view.width - BARS_PX) / Math.max(box.width * room, 1e-3),
    view.height / Math.max(box.height * room, 1e-3),
    60,
  );
  view.set({ cx: box.centre[0] - BARS_PX / 2 / scale, cy: box.centre[1], scale });
}

export function leaveSketch(): void {
  useView.getState().sketch(null);
}

/** The path that this sketch's plane stands square to, if it does. */
export function pathOfPlane(): string | null {
  const { document } = usePart.getState();
  const own = stepOf(document, useSketch.getState().step);
  if (document === null || !isDrawn(own)) return null;
  return carrierOf(document, own) ?? document.steps.find((s) => isDrawn(s) && s.id !== own.id)?.id ?? null;
}

export function constrain(entry: ConstraintEntry): void {
  const { selection, set } = useSketch.getState();
  if (selection.length === 0) return;
  const { kind } = entry;
  const path = kind === "on_path" ? pathOfPlane() : null;
  void edit(`Add ${entry.title.toLowerCase()}`, (sketch) => {
    const many =
      (kind === "horizontal" || kind === "vertical") && selection.every((i) => sketch.entities.some((e) => e.id === i));
    const groups = many || kind === "on_path" ? selection.map((i) => [i]) : [selection];
    const next = groups.reduce((s, items) => addConstraint(s, kind, items, path), sketch);
    return { sketch: next, added: next.constraints.at(-1)!.id };
  }).then((kept) => kept && set({ selection: [] }));
}

export function removeSelected(): void {
  const { selection, set } = useSketch.getState();
  if (selection.length === 0) return;
  set({ selection: [] });
  void edit("Delete", (sketch) => removeItems(sketch, new Set(selection)));
}

/** Move the selected point by keys, one unit or ten, as if it were dragged. */
export function nudge([x, y]: Vec2, far: boolean): void {
  const { selection, live, moved } = useSketch.getState();
  const [item] = selection;
  if (live === null || moved !== null || selection.length !== 1 || !isPoint(live.sketch, item!) || item === "O") return;
  const unit = (usePart.getState().document?.units === "in" ? 25.4 / 16 : 1) * (far ? 10 : 1);
  const [px, py] = pointAt(live.sketch, item!);
  drag(item!, [px + x * unit, py + y * unit]);
  void drop();
}

/** Carry an action out with values as typed. */
export async function act(action: SketchAction, values: Record<string, string>, on: boolean): Promise<void> {
  const { live, selection, set } = useSketch.getState();
  if (live === null || !action.ready(live.sketch, selection)) return;
  if (await operate(action.title, action.operation(live.sketch, selection, values, on)))
    set({ selection: [], action: null });
}

/** Open an action's numbers; one without numbers is done at once. */
export function choose(action: SketchAction): void {
  const { live, selection, set, say } = useSketch.getState();
  if (live === null) return;
  if (!action.ready(live.sketch, selection)) return say(`${action.title}: ${action.hint}`);
  if (action.fields.length === 0 && action.toggle === undefined) void act(action, {}, false);
  else set({ action: action.id });
}

/** Let a projection that lost its source go: its geometry stays, free. */
export function letGo(projection: string): void {
  void edit("Let a reference go", (sketch) => ({
    ...sketch,
    projections: sketch.projections.filter((p) => p.id !== projection),
  }));
}

async function copy(): Promise<void> {
  const { live, selection, say } = useSketch.getState();
  if (live === null || selection.length === 0) return;
  const clip = await api.clip(live.sketch, selection);
  localStorage.setItem(CLIPBOARD, JSON.stringify(clip));
  say(`${clip.entities.length} piece${clip.entities.length === 1 ? "" : "s"} copied. Paste in this sketch or another.`);
}

/** Put a sketch's pieces in the middle of what is on the screen. */
export function pasteSketch(label: string, clip: Sketch): void {
  const { cx, cy } = useSketchView.getState();
  void operate(label, { op: "paste", clip, at: [cx, cy] });
}

function paste(): void {
  const text = localStorage.getItem(CLIPBOARD);
  if (text !== null) pasteSketch("Paste", JSON.parse(text) as Sketch);
  else useSketch.getState().say("Nothing was copied yet.");
}

async function saveSvg(): Promise<void> {
  const { step } = useSketch.getState();
  const { document } = usePart.getState();
  const own = stepOf(document, step);
  if (step === null || document === null || own === undefined) return;
  const text = await api.writeSvg(document, step);
  saveText(`${own.name.replace(/\W+/g, "-").toLowerCase()}.svg`, text, "image/svg+xml");
}

function chooseSvg(): void {
  const input = window.document.createElement("input");
  input.type = "file";
  input.accept = ".svg,image/svg+xml";
  input.onchange = () => {
    const file = input.files?.[0];
    if (file) void openSvg(file);
  };
  input.click();
}

/** Read a file; one that does not say its unit asks for it. */
export async function openSvg(file: File, mmPerUnit: number | null = null): Promise<void> {
  const store = useSketch.getState();
  const svg = await file.text();
  try {
    const drawing = await api.readSvg(svg, mmPerUnit);
    if (drawing.scale === null && mmPerUnit === null)
      return store.set({ svg: { file, width: drawing.width, height: drawing.height } });
    store.set({ svg: null });
    pasteSketch(`Open ${file.name}`, drawing.sketch);
    if (drawing.skipped.length > 0) store.say(`Left out: ${drawing.skipped.join(", ")}.`);
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    const { live } = useSketch.getState();
    if (live !== null)
      store.set({
        svg: null,
        dispute: { message: error.detail, label: "Open an SVG", tried: live.sketch, added: null, against: [] },
      });
  }
}

/** What is drawn from now on is mirrored about the line or axis that is selected; again: no more. */
function mirrorWhileDrawing(): void {
  const { mirrorAbout, selection, live, set, say } = useSketch.getState();
  if (mirrorAbout !== null) return set({ mirrorAbout: null });
  const line = selection.find(
    (i) => i === "X" || i === "Y" || live?.sketch.entities.some((e) => e.id === i && e.kind === "line"),
  );
  if (line === undefined) return say("Select the line or axis to mirror about first.");
  set({ mirrorAbout: line, selection: [] });
}

/** Esc: end the chain (keeping a spline), then let go, then leave. */
export function escape(): void {
  const store = useSketch.getState();
  if (store.clicks.length > 0) finishChain();
  else if (store.dispute !== null || store.note !== null) store.set({ dispute: null, note: null });
  else if (store.action !== null || store.svg !== null) store.set({ action: null, svg: null });
  else if (store.selection.length > 0) store.set({ selection: [] });
  else if (store.tool !== "select") store.use("select");
  else leaveSketch();
}

/** Enter keeps a curve that has points enough. */
export function finishSpline(): void {
  const { tool, clicks } = useSketch.getState();
  if (takesMany(tool) && completeSpline(tool, clicks) !== null) finishChain();
}

export const SKETCH_COMMANDS: SketchCommand[] = [
  ...TOOLS.map((t): SketchCommand => ({
    id: `tool-${t.tool}`,
    title: t.title,
    key: t.key,
    detail: t.hint,
    group: "Draw and edit",
    run: () => useSketch.getState().use(t.tool),
  })),
  ...ACTIONS.map((a): SketchCommand => ({
    id: `act-${a.id}`,
    title: a.title,
    key: a.key,
    detail: a.hint,
    group: "With what is selected",
    run: () => choose(a),
  })),
  {
    id: "construction",
    title: "Construction on or off",
    key: "J",
    detail: "Helps to draw, is not swept",
    group: "With what is selected",
    run: () => void edit("Construction", (s) => toggleConstruction(s, new Set(useSketch.getState().selection))),
  },
  {
    id: "mirror-drawing",
    title: "Mirror while drawing",
    key: "shift+D",
    detail: "About the selected line or axis; again to stop",
    group: "With what is selected",
    run: mirrorWhileDrawing,
  },
  {
    id: "copy",
    title: "Copy",
    key: "mod+C",
    detail: "To paste in this sketch or another",
    group: "With what is selected",
    run: () => void copy(),
  },
  { id: "delete", title: "Delete", key: "Delete", detail: "", group: "With what is selected", run: removeSelected },
  ...CONSTRAINTS.map((c): SketchCommand => ({
    id: `hold-${c.kind}`,
    title: c.title,
    key: c.key,
    detail: "",
    group: "Constraints on what is selected",
    run: () => constrain(c),
  })),
  { id: "paste", title: "Paste", key: "mod+V", detail: "In the middle of the screen", group: "Sketch", run: paste },
  {
    id: "free",
    title: "Show me what is free",
    key: "Z",
    detail: "Moves it gently to and fro",
    group: "Sketch",
    run: startWiggle,
  },
  {
    id: "comb",
    title: "Curvature comb",
    key: "shift+K",
    detail: "How splines bend",
    group: "Sketch",
    run: () => useSketch.getState().set({ comb: !useSketch.getState().comb }),
  },
  { id: "fit", title: "Fit the sketch", key: "0", detail: "", group: "Sketch", run: fitSketch },
  {
    id: "svg-out",
    title: "Save the sketch as SVG",
    key: "",
    detail: "Exact lines, arcs and curves",
    group: "Sketch",
    run: () => void saveSvg(),
  },
  {
    id: "svg-in",
    title: "Open an SVG in the sketch",
    key: "",
    detail: "An outline from elsewhere",
    group: "Sketch",
    run: chooseSvg,
  },
  { id: "done", title: "Leave the sketch", key: "mod+Enter", detail: "", group: "Sketch", run: leaveSketch },
];
