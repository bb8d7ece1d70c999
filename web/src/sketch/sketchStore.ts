/** The sketch that is being drawn: its solved state, the tool, the selection, what would not go. */
import { create } from "zustand";
import { api, Refusal } from "../api/client";
import type { Message, Part, Sketch, SketchData, Vec2 } from "../api/types";
import { isDrawn, withSketch } from "../state/drawings";
import { stepOf, usePart } from "../state/part";
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
  begin: (step: string) => Promise<void>;
  end: () => void;
  refresh: () => Promise<void>;
  edit: (label: string, change: (sketch: Sketch) => { sketch: Sketch; added?: string } | Sketch | null) => Promise<boolean>;
  /** One edit operation, carried out and solved by the server. */
  operate: (label: string, operation: Record<string, unknown>) => Promise<boolean>;
  drag: (item: string, to: Vec2) => void;
  drop: () => Promise<void>;
  pick: (item: string | null, more: boolean) => void;
  use: (tool: Tool) => void;
  set: (state: Partial<SketchState>) => void;
}

let queue: Promise<unknown> = Promise.resolve();
let dragging: { item: string; to: Vec2 | null; busy: boolean; done: Promise<void> } | null = null;

/** Whether anything stands elsewhere: a pull against what holds moves nothing and is no edit. */
function differs(a: Sketch, b: Sketch): boolean {
  const sizes = (s: Sketch) => [...s.points.flatMap((p) => [p.x, p.y]), ...s.entities.map((e) => ("radius" in e ? e.radius : 0))];
  const [from, to] = [sizes(a), sizes(b)];
  return from.length !== to.length || from.some((v, i) => Math.abs(v - to[i]!) > 1e-9);
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

  /** Keep what the server made of the sketch, or say why it would not. */
  async function taken(label: string, tried: Sketch, call: (part: Part, step: string) => Promise<SketchData>): Promise<boolean> {
    const { step } = get();
    const part = usePart.getState().document;
    if (step === null || part === null) return false;
    try {
      const data = await call(withSketch(part, step, tried), step);
      set({ live: { ...get().live, ...data }, dispute: null });
      void usePart.getState().change(label, (p) => withSketch(p, step, data.sketch));
      return true;
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      set({ dispute: { message: error.detail, label, tried, added: null, against: [] } });
      return false;
    }
  }

  function queued(work: () => Promise<boolean>): Promise<boolean> {
    set({ busy: get().busy + 1 });
    const run = queue.then(work).finally(() => set({ busy: get().busy - 1 }));
    queue = run.catch(() => undefined);
    return run;
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
    step: null, live: null, tool: "select", selection: [], clicks: [], dispute: null, editing: null, moved: null, pulled: null, wiggle: null,
    corner: "5", sides: 6, mirrorAbout: null, comb: false, busy: 0, action: null, note: null, svg: null, attach: null,
    say: (note) => set({ note }),
    begin: async (step) => {
      set({ step, live: null, tool: "select", selection: [], clicks: [], dispute: null, editing: null, moved: null, pulled: null, wiggle: null, mirrorAbout: null, action: null, note: null, svg: null, attach: null });
      await get().refresh();
      const { step: now, live, tool } = get();
      if (now === step && live?.sketch.entities.length === 0 && tool === "select") set({ tool: "line" });
    },
    end: () => set({ step: null, live: null, clicks: [], selection: [], dispute: null }),
    refresh: async () => {
      const { step } = get();
      const part = usePart.getState().document;
      const current = stepOf(part, step);
      if (step === null || part === null || !isDrawn(current)) return;
      try {
        const data = await api.solve(part, step);
        if (get().step === step) set({ live: data, dispute: null });
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        const items = (error.detail.place as { items?: string[] }).items ?? [];
        const live: SketchData = { sketch: current.sketch, freedom: 0, free: [], repeated: [], measured: {}, motions: [], curves: {}, combs: {}, lost: [], figure: "", decided_by: [], faults: {} };
        set({ live, dispute: { message: error.detail, label: "Mend the sketch", tried: current.sketch, added: null, against: items } });
      }
    },
    edit: (label, change) => queued(async () => {
      const { live, mirrorAbout } = get();
      if (live === null) return false;
      const made = change(live.sketch);
      if (made === null) return false;
      const { sketch, added = null } = "sketch" in made ? made : { sketch: made };
      const drawn = sketch.entities.filter((e) => !live.sketch.entities.some((o) => o.id === e.id)).map((e) => e.id);
      if (mirrorAbout !== null && drawn.length > 0) {
        return taken(`${label}, mirrored`, sketch, (part, step) => api.edit(part, step, { op: "mirror", items: drawn, about: mirrorAbout, live: true }));
      }
      return attempt(label, sketch, added);
    }),
    operate: (label, operation) => queued(async () => {
      const { live } = get();
      return live !== null && taken(label, live.sketch, (part, step) => api.edit(part, step, operation));
    }),
    drag: (item, to) => {
      if (dragging === null || dragging.item !== item) dragging = { item, to: null, busy: false, done: Promise.resolve() };
      dragging.to = to;
      set({ pulled: { item, to } });
      if (!dragging.busy) {
        dragging.busy = true;
        dragging.done = pull();
      }
    },
    drop: async () => {
      set({ busy: get().busy + 1 });
      try {
        await dragging?.done;
        dragging = null;
        const { moved, live } = get();
        if (moved !== null && live !== null && differs(moved.sketch, live.sketch)) await get().edit("Drag", () => moved.sketch);
      } finally {
        set({ moved: null, pulled: null, busy: get().busy - 1 });
      }
    },
    pick: (item, more) => set((s) => {
      if (item === null) return { selection: more ? s.selection : [], note: null };
      if (s.selection.includes(item)) return { selection: more ? s.selection.filter((i) => i !== item) : [item], note: null };
      return { selection: more ? [...s.selection, item] : [item], note: null };
    }),
    use: (tool) => set({ tool, attach: null, clicks: [], selection: [], dispute: null, editing: null, action: null, note: null }),
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
  const dimension = { id, ...made, value, driving: true, at, side: "near" as const };
  return { sketch: { ...sketch, dimensions: [...sketch.dimensions, dimension] }, added: id };
}
