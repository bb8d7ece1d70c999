/** What is looked at: nothing here belongs to the part. */
import { create } from "zustand";
import type { Fineness } from "../api/client";
import type { Step, StepReport, Vec3 } from "../api/types";

export type ViewName = "front" | "back" | "left" | "right" | "top" | "bottom" | "corner";
export type Shading = "edges" | "shaded" | "wire" | "ghost";

export interface ViewRequest {
  kind: "fit" | "look" | "square" | "point";
  view?: ViewName;
  step?: string;
  point?: [number, number, number];
  /** Seen from this side, in place of one of the named views. */
  from?: Vec3;
  serial: number;
}

export type LaneName = "bend" | "twist" | "size" | "lean" | "room";

export interface Slice {
  by: "station" | "X" | "Y" | "Z";
  at: number;
  flipped: boolean;
}

export interface Preview {
  step: string;
  /** The step as it would be; none where another step is changed. */
  of?: Step;
  report: StepReport;
  mesh: ArrayBuffer | null;
  /** The steps whose bodies the mesh stands for; none where it is of the step alone. */
  replaces: string[];
}

/**
 * What a card waits for: a point or line of a sketch, or a face, side or end, or an edge of a body; before a step, or
 * any.
 */
export interface Pick {
  want: "point" | "line" | "side" | "face" | "edge";
  before: string | null;
  /** Edges as they are built alone, not those that are planned: a step that changes bodies finds no others. */
  built?: boolean;
  label: string;
  /** `at` is a point of an edge. */
  take: (step: string, item: string, at?: Vec3) => void;
}

interface ViewState {
  selected: string | null;
  sketching: string | null;
  station: number | null;
  hover: string | null;
  /** The face that was picked last, by its name. */
  face: string | null;
  /** Where the face that was clicked last lay: the place that was clicked, and the outward normal there. */
  seen: { point: Vec3; normal: Vec3 } | null;
  /** The face under the pointer, by its name. */
  over: string | null;
  /** Where the menu of what is under the pointer is open, in px of the window. */
  menuAt: [number, number] | null;
  pick: Pick | null;
  request: ViewRequest | null;
  /** A view of the part was asked for since it was opened, so that none is taken by itself. */
  looked: boolean;
  shading: Shading;
  hidden: { sketches: boolean; planes: boolean };
  /** Steps whose bodies, paths, sketches and planes are not shown, such as the fittings about a hose. */
  unseen: string[];
  /** Steps whose bodies are shown faintly. */
  faded: string[];
  /** Steps that are marked together on the cord, from the one that was selected first to the other end. */
  marked: string[];
  cord: boolean;
  slip: boolean;
  strip: boolean;
  keysOpen: boolean;
  meshFilesOpen: boolean;
  /** Lanes of the strip that were switched on or off; the others are shown when they have something to say. */
  lanes: Partial<Record<LaneName, boolean>>;
  /** How fine bodies are drawn. */
  fineness: Fineness;
  /** Frames along the path, drawn in the stage. */
  frames: boolean;
  /** What is cut away: all on one side of the section's plane at the station, or of a plane square to an axis. */
  slice: Slice | null;
  preview: Preview | null;
  /** The step whose own scene stands in the stage in place of the part, and the room that it takes. */
  scene: { step: string; box: [Vec3, Vec3] } | null;
  /** Something in the stage is being dragged, so that the camera stands still. */
  dragging: boolean;
  select: (id: string | null) => void;
  sketch: (id: string | null) => void;
  setStation: (station: number | null) => void;
  setHover: (hover: string | null) => void;
  ask: (request: Omit<ViewRequest, "serial">) => void;
  setPreview: (preview: Preview | null) => void;
  /** Hide a step in the stage, or show it again. */
  veil: (id: string) => void;
  /** Show steps faintly in the stage, or plainly again. */
  fade: (ids: string[]) => void;
  set: (state: Partial<ViewState>) => void;
}

let serial = 0;

/**
 * How a part is looked at that was just opened: all that belongs to one part alone. The rest stays from part to part.
 */
export const JUST_OPENED = {
  selected: null,
  sketching: null,
  station: null,
  hover: null,
  face: null,
  seen: null,
  over: null,
  menuAt: null,
  pick: null,
  request: null,
  looked: false,
  unseen: [],
  faded: [],
  marked: [],
  keysOpen: false,
  meshFilesOpen: false,
  slice: null,
  preview: null,
  scene: null,
  dragging: false,
  fineness: "normal" as Fineness, // what is fine enough to look at one part may take minutes for the next
} satisfies Partial<ViewState>;

export const useView = create<ViewState>((set) => ({
  ...JUST_OPENED,
  shading: "edges",
  hidden: { sketches: false, planes: false },
  cord: true,
  slip: true,
  strip: true,
  lanes: {},
  frames: false,
  select: (selected) => set({ selected, marked: [], face: null, pick: null, preview: null, scene: null }),
  sketch: (sketching) => set((s) => ({ sketching, selected: sketching ?? s.selected, preview: null, scene: null })),
  setStation: (station) => set({ station }),
  setHover: (hover) => set({ hover, over: null }),
  ask: (request) =>
    set(({ looked }) => ({ request: { ...request, serial: ++serial }, looked: looked || request.kind !== "fit" })),
  setPreview: (preview) => set({ preview }),
  veil: (id) =>
    set(({ unseen }) => ({ unseen: unseen.includes(id) ? unseen.filter((other) => other !== id) : [...unseen, id] })),
  fade: (ids) =>
    set(({ faded }) => ({
      faded: ids.every((id) => faded.includes(id))
        ? faded.filter((id) => !ids.includes(id))
        : [...new Set([...faded, ...ids])],
    })),
  set: (state) => set(state),
}));
