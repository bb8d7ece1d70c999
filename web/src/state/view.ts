/** What is looked at: nothing here belongs to the part. */
import { create } from "zustand";
import type { StepReport } from "../api/types";

export type ViewName = "front" | "back" | "left" | "right" | "top" | "bottom" | "corner";
export type Shading = "edges" | "shaded" | "wire" | "ghost";

export interface ViewRequest {
  kind: "fit" | "look" | "square" | "point";
  view?: ViewName;
  step?: string;
  point?: [number, number, number];
  serial: number;
}

export interface Preview {
  step: string;
  report: StepReport;
  mesh: string | null;
}

interface ViewState {
  selected: string | null;
  sketching: string | null;
  station: number | null;
  hover: string | null;
  /** The face that was picked last, by its name. */
  face: string | null;
  request: ViewRequest | null;
  shading: Shading;
  hidden: { sketches: boolean; planes: boolean };
  cord: boolean;
  slip: boolean;
  strip: boolean;
  keysOpen: boolean;
  preview: Preview | null;
  /** Something in the stage is being dragged, so that the camera stands still. */
  dragging: boolean;
  select: (id: string | null) => void;
  sketch: (id: string | null) => void;
  setStation: (station: number | null) => void;
  setHover: (hover: string | null) => void;
  ask: (request: Omit<ViewRequest, "serial">) => void;
  setPreview: (preview: Preview | null) => void;
  set: (state: Partial<ViewState>) => void;
}

let serial = 0;

export const useView = create<ViewState>((set) => ({
  selected: null, sketching: null, station: null, hover: null, face: null, request: null, shading: "edges",
  hidden: { sketches: false, planes: false }, cord: true, slip: true, strip: true, keysOpen: false, preview: null, dragging: false,
  select: (selected) => set({ selected, face: null, preview: null }),
  sketch: (sketching) => set((s) => ({ sketching, selected: sketching ?? s.selected, preview: null })),
  setStation: (station) => set({ station }),
  setHover: (hover) => set({ hover }),
  ask: (request) => set({ request: { ...request, serial: ++serial } }),
  setPreview: (preview) => set({ preview }),
  set: (state) => set(state),
}));
