/** The sketch that is being drawn: its solved state, the tool, the selection, what would not go. */
import { create } from "zustand";
import type { Message, Sketch, SketchData, Vec2 } from "../api/types";
import type { Spot } from "./edit/entities";
import type { Tool } from "./sketchKeys";

/** An edit that did not go through: what was tried, and who stands against it. */
export interface Dispute {
  message: Message;
  label: string;
  tried: Sketch;
  added: string | null;
  against: string[];
}

interface SketchState {
  step: string | null;
  live: SketchData | null;
  tool: Tool;
  selection: string[];
  clicks: Spot[];
  dispute: Dispute | null;
  editing: string | null;
  moved: SketchData | null;
  /** The point that is pulled, and where the pointer pulls it to. */
  pulled: { item: string; to: Vec2 } | null;
  wiggle: Record<string, Vec2> | null;
  /** Sizes of the corner tools, sides of the next polygon. */
  corner: string;
  sides: number;
  /** The line that what is drawn is mirrored about, as it is drawn. */
  mirrorAbout: string | null;
  comb: boolean;
  /** Edits that are being solved. */
  busy: number;
  action: string | null;
  /** A word that is no refusal: what to pick first, what was copied. */
  note: string | null;
  /** An SVG file that does not say its unit. */
  svg: { file: File; width: number; height: number } | null;
  /** A projection that lost its source and is to be attached to what is picked next. */
  attach: string | null;
  say: (note: string) => void;
  /** Open the sketch of a step, with nothing known of it yet. */
  open: (step: string) => void;
  close: () => void;
  pick: (item: string | null, more: boolean) => void;
  use: (tool: Tool) => void;
  set: (state: Partial<SketchState>) => void;
}

/** All that is forgotten when a sketch is opened. */
const CLEAN = {
  live: null,
  tool: "select",
  selection: [],
  clicks: [],
  dispute: null,
  editing: null,
  moved: null,
  pulled: null,
  wiggle: null,
  mirrorAbout: null,
  action: null,
  note: null,
  svg: null,
  attach: null,
} satisfies Partial<SketchState>;

export const useSketch = create<SketchState>((set) => ({
  step: null,
  ...CLEAN,
  corner: "5",
  sides: 6,
  comb: false,
  busy: 0,
  say: (note) => set({ note }),
  open: (step) => set({ step, ...CLEAN }),
  close: () => set({ step: null, live: null, clicks: [], selection: [], dispute: null }),
  pick: (item, more) =>
    set((s) => {
      if (item === null) return { selection: more ? s.selection : [], note: null };
      if (s.selection.includes(item))
        return { selection: more ? s.selection.filter((i) => i !== item) : [item], note: null };
      return { selection: more ? [...s.selection, item] : [item], note: null };
    }),
  use: (tool) =>
    set({ tool, attach: null, clicks: [], selection: [], dispute: null, editing: null, action: null, note: null }),
  set: (state) => set(state),
}));

/** While something is being done, the sketch says that it is busy. */
export async function whileBusy<T>(work: () => Promise<T>): Promise<T> {
  const count = (by: number) => useSketch.setState((s) => ({ busy: s.busy + by }));
  count(1);
  try {
    return await work();
  } finally {
    count(-1);
  }
}
