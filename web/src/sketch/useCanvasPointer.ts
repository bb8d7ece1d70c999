/** The pointer over the sketch: what it is over, and what a press, a drag or a turn of the wheel does. */
import { useRef, useState, type PointerEvent, type WheelEvent } from "react";
import type { SketchData, Units, Vec2 } from "../api/types";
import { drawAt, editAt, finishChain, placeDimension } from "./clicking";
import { isPoint } from "./edit/entities";
import { axisAt, candidates, snap, type PathCrossing } from "./place";
import { drag, drop } from "./pulling";
import { isEditTool } from "./sketchKeys";
import { useSketch } from "./sketchStore";
import { toSketch, useSketchView } from "./sketchView";
import type { Source } from "./sources";

const MOVE_PX = 4;
const ZOOM_STEP = 1.0015;
const [LEAST_SCALE, MOST_SCALE] = [1e-3, 1e4];

interface Press {
  item: string | null;
  from: Vec2;
  moved: boolean;
  pan: boolean;
}

export interface Pointer {
  at: Vec2;
  alt: boolean;
  shift: boolean;
}

interface Around {
  crossings: PathCrossing[];
  sources: Source[];
  units: Units;
}

const pixelOf = (e: PointerEvent | WheelEvent): Vec2 => {
  const box = e.currentTarget.getBoundingClientRect();
  return [e.clientX - box.left, e.clientY - box.top];
};

/** What can be pulled of what is under the pointer: a point, or the rim of a circle. */
function pullable(data: SketchData, item: string): string | null {
  if (item === "O" || item === "X" || item === "Y") return null;
  const whole = isPoint(data.sketch, item) || data.sketch.entities.some((e) => e.id === item && e.kind === "circle");
  return whole ? item : null;
}

export function useCanvasPointer(data: SketchData | null, { crossings, sources, units }: Around) {
  const [pointer, setPointer] = useState<Pointer | null>(null);
  const [hover, setHover] = useState<string | null>(null);
  const press = useRef<Press | null>(null);

  const onPointerDown = (e: PointerEvent<SVGSVGElement>) => {
    const { editing, tool } = useSketch.getState();
    if (editing !== null || data === null) return;
    const view = useSketchView.getState();
    const from = pixelOf(e);
    const at = toSketch(view, from);
    const under = candidates(data, at, view.scale)[0] ?? null;
    const item = tool === "select" ? (under ?? axisAt(at, view.scale)) : null;
    press.current = { item, from, moved: false, pan: e.button !== 0 || (tool === "select" && under === null) };
    e.currentTarget.setPointerCapture(e.pointerId);
  };

  const onPointerMove = (e: PointerEvent<SVGSVGElement>) => {
    if (data === null) return;
    const view = useSketchView.getState();
    const pixel = pixelOf(e);
    const at = toSketch(view, pixel);
    setPointer({ at, alt: e.altKey, shift: e.shiftKey });
    const held = press.current;
    if (held === null) return setHover(candidates(data, at, view.scale)[0] ?? null);
    if (Math.hypot(pixel[0] - held.from[0], pixel[1] - held.from[1]) > MOVE_PX) held.moved = true;
    if (!held.moved) return;
    if (held.pan) return view.set({ cx: view.cx - e.movementX / view.scale, cy: view.cy + e.movementY / view.scale });
    const item = held.item === null ? null : pullable(data, held.item);
    if (item !== null) drag(item, at);
  };

  const onPointerUp = (e: PointerEvent<SVGSVGElement>) => {
    const held = press.current;
    press.current = null;
    if (held === null || data === null) return;
    if (held.moved) {
      if (!held.pan && held.item !== null) void drop();
      return;
    }
    const view = useSketchView.getState();
    const { tool, sides, pick } = useSketch.getState();
    const at = toSketch(view, pixelOf(e));
    if (e.button !== 0) finishChain();
    else if (tool === "select") pick(held.item, e.shiftKey);
    else if (tool === "dimension") placeDimension(at, view.scale, units);
    else if (isEditTool(tool)) editAt(at, view.scale, sources, e.shiftKey);
    else
      drawAt(
        snap(data, at, view.scale, crossings, e.altKey),
        { alt: e.altKey, shift: e.shiftKey, sides },
        e.detail >= 2,
        view.scale,
      );
  };

  const onWheel = (e: WheelEvent) => {
    const view = useSketchView.getState();
    const pixel = pixelOf(e);
    const before = toSketch(view, pixel);
    const scale = Math.min(MOST_SCALE, Math.max(LEAST_SCALE, view.scale * ZOOM_STEP ** -e.deltaY));
    const after = toSketch({ ...view, scale }, pixel);
    view.set({ scale, cx: view.cx + before[0] - after[0], cy: view.cy + before[1] - after[1] });
  };

  const on = { onPointerDown, onPointerMove, onPointerUp, onPointerLeave: () => setPointer(null), onWheel };
  return { pointer, hover, on };
}
