/** What part of a sketch plane is on the screen: centre in mm and scale in pixels per mm. */
import { create } from "zustand";
import type { PlaneData, Vec2 } from "../api/types";

interface SketchView {
  plane: PlaneData | null;
  cx: number;
  cy: number;
  scale: number;
  width: number;
  height: number;
  set: (state: Partial<Omit<SketchView, "set">>) => void;
}

export const useSketchView = create<SketchView>((set) => ({
  plane: null,
  cx: 0,
  cy: 0,
  scale: 2,
  width: 800,
  height: 600,
  set: (state) => set(state),
}));

type Window = Pick<SketchView, "cx" | "cy" | "scale" | "width" | "height">;

export function toScreen(view: Window, [x, y]: Vec2): Vec2 {
  return [view.width / 2 + (x - view.cx) * view.scale, view.height / 2 - (y - view.cy) * view.scale];
}

export function toSketch(view: Window, [px, py]: Vec2): Vec2 {
  return [view.cx + (px - view.width / 2) / view.scale, view.cy - (py - view.height / 2) / view.scale];
}
