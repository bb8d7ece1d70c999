/** The sketch that is being drawn: its solved state, the tool, the selection, what would not go. */
import { create } from "zustand";
import { api, Refusal } from "../api/client";
import type { Message, Part, Sketch, SketchData, SketchStep, Vec2 } from "../api/types";
import { stepOf, usePart, withStep } from "../state/part";
import { freshSketchId, removeItems, type Spot } from "./edit";
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
  wiggle: Record<string, Vec2> | null;
  begin: (step: string) => Promise<void>;
  end: () => void;
  refresh: () => Promise<void>;
  edit: (label: string, change: (sketch: Sketch) => { sketch: Sketch; added?: string } | Sketch | null) => Promise<boolean>;
  drag: (item: string, to: Vec2) => void;
  drop: () => Promise<void>;
  pick: (item: string | null, more: boolean) => void;
  use: (tool: Tool) => void;
  set: (state: Partial<SketchState>) => void;
}

let queue: Promise<unknown> = Promise.resolve();
let dragging: { item: string; to: Vec2 | null; busy: boolean; done: Promise<void> } | null = null;

function withSketch(part: Part, step: string, sketch: Sketch): Part {
  return withStep<SketchStep>(part, step, (s) => ({ ...s, sketch }));
}

export const useSketch = create<SketchState>((set, get) => {
  /** Solve a tried sketch and keep it; what cannot be becomes a dispute and changes nothing. */
  async function attempt(label: string, tried: Sketch, added: string | null): Promise<boolean> {
    const { step } = get();
    const part = usePart.getState().document;
    if (step === null || part === null) return false;
    try {
      const data = await api.solve(withSketch(part, step, tried), step, added ?? undefined);
      if (data.decided_by && data.decided_by.length > 0) {
        const message: Message = {
          level: "warning", code: "repeats", text: "This is already decided by what is there.", way_out: "Leave it out, or give up one of these.", place: {},
        };
        set({ dispute: { message, label, tried, added, against: data.decided_by } });
        return false;
      }
      set({ live: { ...get().live, ...data }, dispute: null });
      void usePart.getState().change(label, (p) => withSketch(p, step, data.sketch));
      return true;
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      const items = (error.detail.place as { items?: string[] }).items ?? [];
      const named = items.filter((i) => i !== added && (tried.constraints.some((c) => c.id === i) || tried.dimensions.some((d) => d.id === i)));
      set({ dispute: { message: error.detail, label, tried, added, against: named } });
      return false;
    }
  }

  async function pull(): Promise<void> {
    while (dragging?.to) {
      const { item, to } = dragging;
      dragging.to = null;
      const { step, live } = get();
      const part = usePart.getState().document;
      if (step === null || part === null || live === null) return;
      try {
        const moved = await api.drag(withSketch(part, step, live.sketch), step, item, to);
        set({ moved });
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
      }
    }
    if (dragging) dragging.busy = false;
  }

  return {
    step: null, live: null, tool: "select", selection: [], clicks: [], dispute: null, editing: null, moved: null, wiggle: null,
    begin: async (step) => {
      set({ step, live: null, tool: "select", selection: [], clicks: [], dispute: null, editing: null, moved: null, wiggle: null });
      await get().refresh();
      const { step: now, live, tool } = get();
      if (now === step && live?.sketch.entities.length === 0 && tool === "select") set({ tool: "line" });
    },
    end: () => set({ step: null, live: null, clicks: [], selection: [], dispute: null }),
    refresh: async () => {
      const { step } = get();
      const part = usePart.getState().document;
      const current = stepOf(part, step);
      if (step === null || part === null || current?.kind !== "sketch") return;
      try {
        const data = await api.solve(part, step);
        if (get().step === step) set({ live: data, dispute: null });
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        const items = (error.detail.place as { items?: string[] }).items ?? [];
        const live: SketchData = { sketch: current.sketch, freedom: 0, free: [], repeated: [], measured: {}, motions: [], curves: {} };
        set({ live, dispute: { message: error.detail, label: "Mend the sketch", tried: current.sketch, added: null, against: items } });
      }
    },
    edit: (label, change) => {
      const run = queue.then(async () => {
        const { live } = get();
        if (live === null) return false;
        const made = change(live.sketch);
        if (made === null) return false;
        const { sketch, added = null } = "sketch" in made ? made : { sketch: made };
        return attempt(label, sketch, added);
      });
      queue = run.catch(() => undefined);
      return run;
    },
    drag: (item, to) => {
      if (dragging === null || dragging.item !== item) dragging = { item, to: null, busy: false, done: Promise.resolve() };
      dragging.to = to;
      if (!dragging.busy) {
        dragging.busy = true;
        dragging.done = pull();
      }
    },
    drop: async () => {
      await dragging?.done;
      dragging = null;
      const { moved } = get();
      if (moved === null) return;
      await get().edit("Drag", () => moved.sketch);
      set({ moved: null });
    },
    pick: (item, more) => set((s) => {
      if (item === null) return { selection: more ? s.selection : [] };
      if (s.selection.includes(item)) return { selection: more ? s.selection.filter((i) => i !== item) : [item] };
      return { selection: more ? [...s.selection, item] : [item] };
    }),
    use: (tool) => set({ tool, clicks: [], selection: [], dispute: null, editing: null }),
    set: (state) => set(state),
  };
});

/** Settle a dispute by giving up one of those who stand against it. */
export function giveUp(dispute: Dispute, item: string): void {
  const without = removeItems(dispute.tried, new Set([item]));
  void useSketch.getState().edit(`${dispute.label}, give up ${item}`, () => ({ sketch: without, ...(dispute.added ? { added: dispute.added } : {}) }));
}

/** Keep the new dimension as a reference: shown, not held. */
export function keepAsReference(dispute: Dispute): void {
  const dimensions = dispute.tried.dimensions.map((d) => (d.id === dispute.added ? { ...d, driving: false } : d));
  void useSketch.getState().edit("Add a reference dimension", () => ({ ...dispute.tried, dimensions }));
}

export function addDimension(sketch: Sketch, made: { kind: Sketch["dimensions"][number]["kind"]; items: string[] }, value: number, at: Vec2) {
  const id = freshSketchId(sketch, "d");
  const dimension = { id, ...made, value, driving: true, at };
  return { sketch: { ...sketch, dimensions: [...sketch.dimensions, dimension] }, added: id };
}
