/** The sketch on the screen: drawing, selecting, dragging, panning and zooming. */
import { useCallback, useRef, useState, type PointerEvent, type WheelEvent } from "react";
import type { Dimension, SketchData, Units, Vec2 } from "../api/types";
import { usePart } from "../state/part";
import { trim, inUnits } from "../ui/format";
import { Axes, Combs, Curves, Faults, Figures, Legs, Points, Tags } from "./Drawing";
import { dimensionFor, isPoint, measured, pointAt, type Spot } from "./edit";
import { project } from "./commands";
import { candidates, middleOf, segmentDistance, snap, spanOf, type PathCrossing } from "./place";
import type { Source } from "./sources";
import { complete, completeSpline, propose, type Held, type Made } from "./pending";
import { isDrawTool, isEditTool, takesMany } from "./sketchKeys";
import { addDimension, useSketch } from "./sketchStore";
import { toScreen, toSketch, useSketchView } from "./sketchView";
import { FigureInput } from "./FigureInput";

const MOVE_PX = 4;
const LEASH_PX = 6;
const ZOOM_STEP = 1.0015;

interface Press {
  item: string | null;
  from: Vec2;
  moved: boolean;
  pan: boolean;
}

export function SketchCanvas({ crossings, sources, units, profile }: { crossings: PathCrossing[]; sources: Source[]; units: Units; profile: boolean }) {
  const view = useSketchView();
  const { live, moved, pulled, tool, selection, clicks, dispute, editing, wiggle, sides, comb } = useSketch();
  const [pointer, setPointer] = useState<{ at: Vec2; alt: boolean; shift: boolean } | null>(null);
  const [hover, setHover] = useState<string | null>(null);
  const press = useRef<Press | null>(null);
  const place = useCallback((p: Vec2) => toScreen(view, p), [view]);
  const data = moved ?? live;
  if (data === null) return <p className="sketch-wait soft">Solving the sketch…</p>;

  const where = (e: PointerEvent | WheelEvent): Vec2 => {
    const box = (e.currentTarget as Element).getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  };
  const spotAt = (at: Vec2, hold: boolean): Spot => snap(data, at, view.scale, crossings, hold);
  const heldBy = (e: { altKey: boolean; shiftKey: boolean }): Held => ({ alt: e.altKey, shift: e.shiftKey, sides });

  const onDown = (e: PointerEvent<SVGSVGElement>) => {
    if (editing !== null) return;
    const pixel = where(e);
    const at = toSketch(view, pixel);
    const under = candidates(data, at, view.scale)[0] ?? null;
    const item = tool === "select" ? (under ?? axisAt(at, view.scale)) : null;
    press.current = { item, from: pixel, moved: false, pan: e.button !== 0 || (tool === "select" && under === null) };
    e.currentTarget.setPointerCapture(e.pointerId);
  };

  const onMove = (e: PointerEvent<SVGSVGElement>) => {
    const pixel = where(e);
    const at = toSketch(view, pixel);
    setPointer({ at, alt: e.altKey, shift: e.shiftKey });
    const held = press.current;
    if (held === null) {
      setHover(candidates(data, at, view.scale)[0] ?? null);
      return;
    }
    if (Math.hypot(pixel[0] - held.from[0], pixel[1] - held.from[1]) > MOVE_PX) held.moved = true;
    if (!held.moved) return;
    if (held.pan) {
      view.set({ cx: view.cx - e.movementX / view.scale, cy: view.cy + e.movementY / view.scale });
    } else if (held.item !== null) {
      const draggable = dragItem(held.item);
      if (draggable !== null) useSketch.getState().drag(draggable, at);
    }
  };

  const dragItem = (item: string): string | null => {
    if (item === "O" || item === "X" || item === "Y") return null;
    if (isPoint(data.sketch, item)) return item;
    const e = data.sketch.entities.find((x) => x.id === item);
    return e?.kind === "circle" ? item : null;
  };

  const onUp = (e: PointerEvent<SVGSVGElement>) => {
    const held = press.current;
    press.current = null;
    if (held === null) return;
    const at = toSketch(view, where(e));
    if (held.moved) {
      if (!held.pan && held.item !== null) void useSketch.getState().drop();
      return;
    }
    if (e.button !== 0) finishChain();
    else if (tool === "select") useSketch.getState().pick(held.item, e.shiftKey);
    else if (tool === "dimension") placeDimension(at);
    else if (isEditTool(tool)) editAt(at, e.shiftKey);
    else click(spotAt(at, e.altKey), heldBy(e), e.detail >= 2);
  };

  /** Trim, extend, split: at a curve. Fillet, chamfer: at a point. */
  const editAt = (at: Vec2, whole: boolean) => {
    const store = useSketch.getState();
    if (tool === "project") {
      const source = sourceAt(sources, at, view.scale);
      if (source !== null) project(source.source, whole && source.what !== "edge" ? "path" : source.what, whole && source.what !== "edge" ? "" : source.item);
      return;
    }
    const under = candidates(data, at, view.scale);
    if (tool === "fillet" || tool === "chamfer") {
      const point = under.find((i) => isPoint(data.sketch, i));
      if (point !== undefined) void store.operate(tool === "fillet" ? "Round a corner" : "Cut a corner", { op: tool, point, size: store.corner });
      return;
    }
    const entity = under.find((i) => !isPoint(data.sketch, i));
    if (entity !== undefined) void store.operate(tool === "trim" ? "Trim" : tool === "extend" ? "Extend" : "Split", { op: tool, entity, at });
  };

  const placeDimension = (at: Vec2) => {
    const store = useSketch.getState();
    const under = candidates(data, at, view.scale)[0] ?? axisAt(at, view.scale);
    const usable = selection.length < 2 && under !== null && !selection.includes(under)
      && (selection.length === 0 || dimensionFor(data.sketch, [...selection, under], at) !== null);
    if (usable) {
      store.pick(under, true);
      return;
    }
    const made = dimensionFor(data.sketch, selection, at);
    if (made === null) return;
    const span = spanOf(data.sketch, made)!;
    const [mx, my] = middleOf(span);
    let id: string | null = null;
    if (made.kind === "curve_length") {
      void addMeasured(made, [at[0] - mx, at[1] - my]);
      return;
    }
    void store.edit("Add a dimension", (sketch) => {
      const now = measured(sketch, made);
      const shown = Number(trim(made.kind === "angle" ? now : inUnits(now, units), 5));
      const result = addDimension(sketch, made, shown, [at[0] - mx, at[1] - my]);
      id = result.added;
      return result;
    }).then((kept) => {
      useSketch.getState().set({ selection: [], editing: kept ? id : null });
    });
  };

  /** A length that the server measures: a reference first, which then drives. */
  const addMeasured = async (made: Pick<Dimension, "kind" | "items">, offset: Vec2) => {
    const store = useSketch.getState();
    let id = "";
    const kept = await store.edit("Add a dimension", (sketch) => {
      const result = addDimension(sketch, made, 0, offset);
      id = result.added;
      return { ...result.sketch, dimensions: result.sketch.dimensions.map((d) => (d.id === id ? { ...d, driving: false } : d)) };
    });
    useSketch.getState().set({ selection: [], editing: kept ? id : null });
  };

  const click = (spot: Spot, held: Held, twice: boolean) => {
    const store = useSketch.getState();
    const previous = clicks.at(-1);
    if (takesMany(tool)) {
      const repeated = previous !== undefined && Math.hypot(previous.at[0] - spot.at[0], previous.at[1] - spot.at[1]) * view.scale < 4;
      if (twice || repeated) keep(completeSpline(tool, clicks));
      else store.set({ clicks: [...clicks, spot] });
      return;
    }
    let end: string | null = null;
    const closes = tool === "line" && clicks.length > 0 && spot.existing !== undefined;
    const made = complete(tool, data.sketch, clicks, spot, held, (id) => { end = id; });
    if (made === null) {
      if (previous === undefined || Math.hypot(previous.at[0] - spot.at[0], previous.at[1] - spot.at[1]) > 1e-9) store.set({ clicks: [...clicks, spot] });
      return;
    }
    keep(closes ? { ...made, next: [] } : made, () => end);
  };

  const keep = (made: Made | null, end: () => string | null = () => null) => {
    const store = useSketch.getState();
    store.set({ clicks: made?.next ?? [] });
    if (made === null) return;
    void store.edit(made.label, made.change).then((kept) => {
      const id = end();
      const state = useSketch.getState();
      if (!kept) state.set({ clicks: [] });
      else if (id !== null && made.next.length > 0 && state.clicks.length === 1 && state.live !== null && isPoint(state.live.sketch, id)) {
        state.set({ clicks: [{ at: pointAt(state.live.sketch, id), existing: id }] });
      }
    });
  };

  const finishChain = () => keep(takesMany(tool) ? completeSpline(tool, clicks) : null);

  const onWheel = (e: WheelEvent) => {
    const pixel = where(e);
    const before = toSketch(view, pixel);
    const scale = Math.min(1e4, Math.max(1e-3, view.scale * ZOOM_STEP ** -e.deltaY));
    const after = toSketch({ ...view, scale }, pixel);
    view.set({ scale, cx: view.cx + before[0] - after[0], cy: view.cy + before[1] - after[1] });
  };

  const now = pointer === null ? null : spotAt(pointer.at, pointer.alt);
  const proposal = now === null || !isDrawTool(tool) ? null : propose(tool, data.sketch, clicks, now, { alt: pointer!.alt, shift: pointer!.shift, sides });
  const chosen = new Set(selection);
  const against = new Set(dispute?.against ?? []);
  const shared = { data, place, selection: chosen, against, hover, wiggle };
  const pick = (id: string, more: boolean) => useSketch.getState().pick(id, more);
  return (
    <>
      <svg className={`sketch-canvas tool-${tool}`} width={view.width} height={view.height} data-testid="sketch-canvas" data-scale={view.scale}
        onPointerDown={onDown} onPointerMove={onMove} onPointerUp={onUp} onPointerLeave={() => setPointer(null)}
        onWheel={onWheel} onContextMenu={(e) => e.preventDefault()}>
        <Axes place={place} width={view.width} height={view.height} />
        {crossings.map((c, i) => <Crossing key={i} at={place(c.at)} />)}
        {tool === "project" && <Sources sources={sources} place={place} near={pointer === null ? null : sourceAt(sources, pointer.at, view.scale)} />}
        <Legs data={data} place={place} />
        {comb && <Combs data={data} place={place} />}
        <Curves {...shared} />
        <Faults data={data} place={place} profile={profile} />
        <Tags {...shared} onPick={pick} />
        <Figures {...shared} units={units} onPick={pick} onEdit={(id) => !isDrawTool(tool) && useSketch.getState().set({ editing: id })} />
        <Points {...shared} />
        {moved && pulled && <Leash from={pointOf(moved, pulled.item)} to={pulled.to} place={place} />}
        {proposal && (
          <g className="proposal">
            {proposal.lines.map((l, i) => <polyline key={i} points={l.map((p) => place(p).join(",")).join(" ")} />)}
            {now && <circle cx={place(now.at)[0]} cy={place(now.at)[1]} r={now.existing || now.onPath || now.onCurves || now.middleOf ? 7 : 3} />}
            {now && proposal.tags.map((t, i) => <text key={i} x={place(now.at)[0] + 12 + 16 * i} y={place(now.at)[1] - 10}>{t}</text>)}
          </g>
        )}
        {pointer && proposal && clicks.length > 0 && <SizeNote tool={tool} from={clicks.at(-1)!.at} to={pointer.at} at={place(pointer.at)} units={units} />}
      </svg>
      {editing !== null && <FigureInput key={editing} id={editing} data={data} place={place} units={units} />}
    </>
  );
}

function pointOf({ sketch }: SketchData, item: string): Vec2 | null {
  return isPoint(sketch, item) ? pointAt(sketch, item) : null;
}

/** From a point that its constraints hold back to the pointer that pulls it. */
function Leash({ from, to, place }: { from: Vec2 | null; to: Vec2; place: (p: Vec2) => Vec2 }) {
  if (from === null) return null;
  const [a, b] = [place(from), place(to)];
  if (Math.hypot(a[0] - b[0], a[1] - b[1]) < LEASH_PX) return null;
  return <line className="leash" data-testid="leash" x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} />;
}

function axisAt([x, y]: Vec2, scale: number): string | null {
  if (Math.abs(y) * scale < 5) return "X";
  return Math.abs(x) * scale < 5 ? "Y" : null;
}

/** The point or curve under the pointer, points first. */
function sourceAt(sources: Source[], at: Vec2, scale: number): Source | null {
  const gap = (s: Source) => (s.line.length === 1 ? Math.hypot(s.line[0]![0] - at[0], s.line[0]![1] - at[1])
    : Math.min(...s.line.slice(1).map((p, i) => segmentDistance(at, s.line[i]!, p))));
  const near = sources.map((s) => ({ s, d: gap(s) * scale })).filter((c) => c.d <= 9).sort((a, b) => a.s.line.length - b.s.line.length || a.d - b.d);
  const points = near.filter((c) => c.s.what === "point");
  return (points[0] ?? near.sort((a, b) => a.d - b.d)[0])?.s ?? null;
}

/** What can be projected, faint; what a click would take, strong and by name. */
function Sources({ sources, place, near }: { sources: Source[]; place: (p: Vec2) => Vec2; near: Source | null }) {
  return (
    <g className="sources" data-testid="sources">
      {sources.map((s, i) => {
        const points = s.line.map(place);
        const name = near !== null && s.source === near.source && s.item === near.item ? "near" : "";
        return s.line.length === 1 ? <circle key={i} className={name} cx={points[0]![0]} cy={points[0]![1]} r="3.4" />
          : <polyline key={i} className={name} points={points.map((p) => p.join(",")).join(" ")} />;
      })}
      {near && <text x={place(near.line[0]!)[0] + 12} y={place(near.line[0]!)[1] - 12}>{near.title}</text>}
    </g>
  );
}

/** Where a path goes through this plane. */
function Crossing({ at: [x, y] }: { at: Vec2 }) {
  return (
    <g className="crossing" aria-label="The path crosses here">
      <circle cx={x} cy={y} r="9" />
      <path d={`M${x - 4} ${y}H${x + 4}M${x} ${y - 4}V${y + 4}`} />
    </g>
  );
}

function SizeNote({ tool, from, to, at: [x, y], units }: { tool: string; from: Vec2; to: Vec2; at: Vec2; units: Units }) {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const show = (mm: number) => trim(inUnits(mm, units), 4);
  const text = tool === "rectangle" ? `${show(2 * Math.abs(dx))} × ${show(2 * Math.abs(dy))}`
    : tool === "corner_rectangle" ? `${show(Math.abs(dx))} × ${show(Math.abs(dy))}`
    : tool === "circle" || tool === "ring" ? `Ø ${show(2 * Math.hypot(dx, dy))}` : `${show(Math.hypot(dx, dy))}`;
  return <text className="size-note" x={x + 14} y={y + 22}>{`${text} ${units}`}</text>;
}

export function usePartUnits(): Units {
  return usePart((s) => s.document?.units ?? "mm");
}
