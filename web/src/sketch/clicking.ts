/** What a click in the sketch does, by the tool in hand. */
import type { Dimension, Sketch, Units, Vec2 } from "../api/types";
import { inUnits, trim } from "../ui/format";
import { addDimension, edit, operate, project } from "./changes";
import { complete, completeSpline } from "./drawing/drawing";
import type { Held, Made } from "./drawing/tool";
import { dimensionFor, measured } from "./edit/dimensions";
import { isPoint, pointAt, type Spot } from "./edit/entities";
import { axisAt, candidates, middleOf, spanOf } from "./place";
import { takesMany } from "./sketchKeys";
import { useSketch } from "./sketchStore";
import { sourceAt, type Source } from "./sources";

const AGAIN_PX = 4; // within which a second click is one on the same place

/**
 * Trim, extend, split: at a curve. Fillet, chamfer: at a point. Project: what is under the pointer, `whole` the path
 * that it is of.
 */
export function editAt(at: Vec2, scale: number, sources: Source[], whole: boolean): void {
  const { tool, live, corner } = useSketch.getState();
  if (live === null) return;
  if (tool === "project") {
    const source = sourceAt(sources, at, scale);
    const path = whole && source?.what !== "edge";
    if (source !== null) project(source.source, path ? "path" : source.what, path ? "" : source.item);
    return;
  }
  const under = candidates(live, at, scale);
  if (tool === "fillet" || tool === "chamfer") {
    const point = under.find((i) => isPoint(live.sketch, i));
    if (point !== undefined)
      void operate(tool === "fillet" ? "Round a corner" : "Cut a corner", { op: tool, point, size: corner });
    return;
  }
  const entity = under.find((i) => !isPoint(live.sketch, i));
  if (entity !== undefined)
    void operate(tool === "trim" ? "Trim" : tool === "extend" ? "Extend" : "Split", { op: tool, entity, at });
}

/**
 * Pick what is under the pointer while more is wanted; then put the dimension's figure there, ready to be typed into.
 */
export function placeDimension(at: Vec2, scale: number, units: Units): void {
  const { live, selection, pick } = useSketch.getState();
  if (live === null) return;
  const under = candidates(live, at, scale)[0] ?? axisAt(at, scale);
  const usable =
    selection.length < 2 &&
    under !== null &&
    !selection.includes(under) &&
    (selection.length === 0 || dimensionFor(live.sketch, [...selection, under], at) !== null);
  if (usable) return pick(under, true);
  const made = dimensionFor(live.sketch, selection, at);
  if (made !== null) void addFigure(made, at, units);
}

async function addFigure(made: Pick<Dimension, "kind" | "items">, at: Vec2, units: Units): Promise<void> {
  let id = "";
  const kept = await edit("Add a dimension", (sketch) => {
    const [mx, my] = middleOf(spanOf(sketch, made)!);
    const offset: Vec2 = [at[0] - mx, at[1] - my];
    const byServer = made.kind === "curve_length"; // it is a reference first, which then drives
    const now = byServer ? 0 : measured(sketch, made);
    const result = addDimension(
      sketch,
      made,
      Number(trim(made.kind === "angle" ? now : inUnits(now, units), 5)),
      offset,
    );
    id = result.added;
    if (!byServer) return result;
    return {
      ...result.sketch,
      dimensions: result.sketch.dimensions.map((d) => (d.id === id ? { ...d, driving: false } : d)),
    };
  });
  useSketch.getState().set({ selection: [], editing: kept ? id : null });
}

/** A chain ends where it meets what is drawn; the bare origin is met on the way. */
function endsChain(sketch: Sketch, { existing }: Spot): boolean {
  if (existing !== "O") return existing !== undefined;
  return sketch.points.some((p) => Math.hypot(p.x, p.y) < 1e-9);
}

/** The next click of a drawing tool; `twice` ends a curve through many. */
export function drawAt(spot: Spot, held: Held, twice: boolean, scale: number): void {
  const { tool, clicks, live, set } = useSketch.getState();
  if (live === null) return;
  const previous = clicks.at(-1);
  const gap = previous === undefined ? Infinity : Math.hypot(previous.at[0] - spot.at[0], previous.at[1] - spot.at[1]);
  if (takesMany(tool)) {
    if (twice || gap * scale < AGAIN_PX) keep(completeSpline(tool, clicks));
    else set({ clicks: [...clicks, spot] });
    return;
  }
  let end: string | null = null;
  const closes = tool === "line" && clicks.length > 0 && endsChain(live.sketch, spot);
  const made = complete(tool, live.sketch, clicks, spot, held, (id) => {
    end = id;
  });
  if (made !== null) keep(closes ? { ...made, next: [] } : made, () => end);
  else if (gap > 1e-9) set({ clicks: [...clicks, spot] });
}

/** End a chain; a curve through many points is kept. */
export function finishChain(): void {
  const { tool, clicks } = useSketch.getState();
  keep(takesMany(tool) ? completeSpline(tool, clicks) : null);
}

/** Keep what was drawn; the chain goes on from its end, once that has a name. */
function keep(made: Made | null, end: () => string | null = () => null): void {
  useSketch.getState().set({ clicks: made?.next ?? [] });
  if (made === null) return;
  void edit(made.label, made.change).then((kept) => {
    const id = end();
    const { live, clicks, set } = useSketch.getState();
    if (!kept) set({ clicks: [] });
    else if (id !== null && made.next.length > 0 && clicks.length === 1 && live !== null && isPoint(live.sketch, id)) {
      set({ clicks: [{ at: pointAt(live.sketch, id), existing: id }] });
    }
  });
}
