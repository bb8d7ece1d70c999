/** The open part: its document, saving, undo, and what the builds say of it. */
import { create } from "zustand";
import { api, Refusal, type BuildAnswer } from "../api/client";
import type { BuildData, Message, Part, PartView, Step, StepReport } from "../api/types";

export type SaveState = "saved" | "saving" | "waiting" | "refused" | "overtaken";

interface PartState {
  id: string | null;
  revision: number;
  document: Part | null;
  canUndo: boolean;
  canRedo: boolean;
  saveState: SaveState;
  notice: Message | null;
  buildState: BuildAnswer["state"];
  buildSince: number;
  /** The revision that `result` belongs to. */
  builtRevision: number;
  live: Record<string, string>;
  result: BuildData | null;
  open: (id: string) => Promise<void>;
  close: () => void;
  change: (label: string, edit: (part: Part) => Part) => Promise<void>;
  undo: () => Promise<void>;
  redo: () => Promise<void>;
  takeNewer: () => Promise<void>;
  stopBuild: () => void;
  say: (notice: Message | null) => void;
}

let queue: Promise<void> = Promise.resolve();
/** Changes that the server has not answered yet, the one under way among them. */
let unanswered = 0;
let source: EventSource | null = null;
const RETRY_MS = 2000;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export const usePart = create<PartState>((set, get) => {
  function take(view: PartView) {
    set({ revision: view.revision, canUndo: view.can_undo, canRedo: view.can_redo });
  }

  async function save(id: string, label: string, document: Part) {
    for (;;) {
      try {
        take(await api.save(id, get().revision, label, document));
        if (get().id === id) set({ saveState: answered() });
        return;
      } catch (error) {
        if (!(error instanceof Refusal) || get().id !== id) throw error;
        if (error.status === 0 || error.status === 503) {
          set({ saveState: "waiting" });
          await pause(RETRY_MS);
          continue;
        }
        set({ saveState: error.status === 409 ? "overtaken" : "refused", notice: error.detail });
        return;
      }
    }
  }

  /** Answers may overtake each other: one that was asked for before the last that was taken says nothing new. */
  const builds = { asked: 0, taken: 0 };

  async function fetchBuild(id: string) {
    const serial = ++builds.asked;
    const answer = await api.build(id);
    if (get().id !== id || serial < builds.taken) return;
    builds.taken = serial;
    set({ buildState: answer.state, live: answer.steps, ...(answer.result ? { result: answer.result } : {}) });
    if (answer.state === "done" || answer.state === "failed") set({ builtRevision: answer.revision });
  }

  function watch(id: string) {
    source?.close();
    source = new EventSource(`/api/parts/${id}/events`);
    source.addEventListener("step", (event) => {
      const { id: step, state } = JSON.parse((event as MessageEvent<string>).data) as { id: string; state: string };
      set((s) => ({ live: { ...s.live, [step]: state } }));
    });
    source.addEventListener("build", (event) => {
      const { state } = JSON.parse((event as MessageEvent<string>).data) as { state: BuildAnswer["state"] };
      if (state === "building") set({ buildState: "building", buildSince: Date.now(), live: {} });
      else void fetchBuild(id);
    });
    source.addEventListener("open", () => void fetchBuild(id).catch(() => undefined));
  }

  function inTurn(work: () => Promise<void>): Promise<void> {
    unanswered++;
    queue = queue.then(() => work().finally(() => unanswered--));
    return queue;
  }

  /** What the state becomes with this answer: saved only when no later change waits for its own. */
  const answered = (): SaveState => (unanswered > 1 ? "saving" : "saved");

  function travel(go: (id: string) => Promise<PartView>) {
    return inTurn(async () => {
      const { id } = get();
      if (id === null) return;
      set({ saveState: "saving" });
      try {
        const view = await go(id);
        take(view);
        set({ document: view.document, saveState: answered(), notice: null });
      } catch (error) {
        if (error instanceof Refusal) set({ notice: error.detail, saveState: answered() });
        else throw error;
      }
    });
  }

  return {
    id: null,
    revision: 0,
    document: null,
    canUndo: false,
    canRedo: false,
    saveState: "saved",
    notice: null,
    buildState: "none",
    buildSince: 0,
    builtRevision: 0,
    live: {},
    result: null,
    open: async (id) => {
      set({ id, document: null, result: null, notice: null, live: {}, buildState: "none", saveState: "saved" });
      const view = await api.part(id);
      take(view);
      set({ document: view.document });
      watch(id);
    },
    close: () => {
      source?.close();
      source = null;
      set({ id: null, document: null, result: null });
    },
    change: (label, edit) => {
      const { id, document, saveState } = get();
      if (id === null || document === null || saveState === "overtaken") return Promise.resolve();
      const next = edit(document);
      if (next === document) return Promise.resolve();
      set({ document: next, saveState: "saving", canUndo: true, canRedo: false });
      return inTurn(() => save(id, label, next));
    },
    undo: () => travel(api.undo),
    redo: () => travel(api.redo),
    takeNewer: () => travel(api.part),
    stopBuild: () => {
      const { id } = get();
      if (id !== null) void api.stopBuild(id);
    },
    say: (notice) => set({ notice }),
  };
});

export function stepOf(part: Part | null, id: string | null): Step | undefined {
  return part?.steps.find((s) => s.id === id);
}

export function reportOf(result: BuildData | null, id: string | null): StepReport | undefined {
  return id === null ? undefined : result?.steps[id];
}

/** A step of a document replaced by what `edit` makes of it. */
export function withStep<T extends Step>(part: Part, id: string, edit: (step: T) => T): Part {
  return { ...part, steps: part.steps.map((s) => (s.id === id ? edit(s as T) : s)) };
}

export function freshId(part: Part, stem: string): string {
  const taken = new Set(part.steps.map((s) => s.id));
  for (let i = 1; ; i++) if (!taken.has(`${stem}${i}`)) return `${stem}${i}`;
}

export function freshName(part: Part, stem: string): string {
  const taken = new Set(part.steps.map((s) => s.name));
  if (!taken.has(stem)) return stem;
  for (let i = 2; ; i++) if (!taken.has(`${stem} ${i}`)) return `${stem} ${i}`;
}

/** The steps before one, in build order. */
export function stepsBefore(part: Part, id: string | null): Step[] {
  return part.steps.slice(
    0,
    Math.max(
      0,
      part.steps.findIndex((s) => s.id === id),
    ),
  );
}
