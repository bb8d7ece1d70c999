/** The open part: its document, saving, undo, and what the builds say of it. */
import { create } from "zustand";
import { api, type BuildAnswer } from "../api/client";
import type { BuildData, Message, Part, PartView, Step, StepReport } from "../api/types";
import { closeLine, openLine } from "../api/line";
import { Refusal } from "../api/refusal";
import { newToken, outboxOf, type Listener, type Outbox } from "./outbox";

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
  /** Questions whose answers the part is changed by: as it is meant it is not saved before. */
  asking: number;
  result: BuildData | null;
  open: (id: string) => Promise<void>;
  close: () => void;
  change: (label: string, edit: (part: Part) => Part) => Promise<void>;
  undo: () => Promise<void>;
  redo: () => Promise<void>;
  /** What was not sent gives way to what someone else made of the part. */
  takeNewer: () => Promise<void>;
  /** What was not sent becomes a part of its own, whose id is given. */
  keepAsNew: () => Promise<string | null>;
  stopBuild: () => void;
  say: (notice: Message | null) => void;
  /** Ask the server what a change is to be made of, and make it; what it says against that is said on the page. */
  meanwhile: <T>(question: Promise<T>, change: (answer: T) => void) => Promise<void>;
}

const NO_TRAVEL: Message = {
  level: "warning",
  code: "waiting",
  text: "Undo and redo need the server, which does not answer.",
  way_out: "Your changes are kept and sent when it is back.",
  place: {},
};

let box: Outbox | null = null;

export const usePart = create<PartState>((set, get) => {
  const isOpen = (id: string) => get().id === id;

  function take(view: PartView) {
    set({ revision: view.revision, canUndo: view.can_undo, canRedo: view.can_redo });
  }

  /** What the page shows of the sending of its part's changes; what comes for another part is not for it. */
  const heard = (own: Outbox): Listener => ({
    answered: (view, change) => {
      if (!isOpen(own.part)) return;
      take(view);
      set({ saveState: own.empty ? "saved" : "saving" });
      if (change.way !== "save") set({ document: view.document, notice: null });
    },
    waiting: () => isOpen(own.part) && set({ saveState: "waiting" }),
    refused: (notice) => isOpen(own.part) && set({ saveState: "refused", notice }),
    overtaken: (notice) => isOpen(own.part) && set({ saveState: "overtaken", notice }),
  });

  /** Answers may overtake each other: one that was asked for before the last that was taken says nothing new. */
  const builds = { asked: 0, taken: 0 };

  async function fetchBuild(id: string) {
    const serial = ++builds.asked;
    const answer = await api.build(id);
    if (!isOpen(id) || serial < builds.taken) return;
    builds.taken = serial;
    set({ buildState: answer.state, live: answer.steps, ...(answer.result ? { result: answer.result } : {}) });
    if (answer.state === "done" || answer.state === "failed") set({ builtRevision: answer.revision });
    if (answer.state === "done" && get().document?.values.some((v) => v.row)) await followShelf(id);
  }

  /** Values that follow rows of the shelf have the numbers that are there now, by which the part is built already. */
  async function followShelf(id: string) {
    const view = await api.part(id);
    const { document, revision } = get();
    if (!isOpen(id) || document === null || box?.empty !== true || view.revision !== revision) return;
    const { values } = view.document;
    if (JSON.stringify(values) !== JSON.stringify(document.values)) set({ document: { ...document, values } });
  }

  function watch(id: string) {
    openLine(id, {
      opened: () => void fetchBuild(id).catch(() => undefined),
      step: (step, state) => set((s) => ({ live: { ...s.live, [step]: state } })),
      build: (state) => {
        if (state === "building") set({ buildState: "building", buildSince: Date.now(), live: {} });
        else void fetchBuild(id).catch(() => undefined);
      },
    });
  }

  /** The part as the server has it, with what is not sent yet on top. */
  async function load(id: string, own: Outbox) {
    const view = await api.part(id);
    if (!isOpen(id)) return;
    if (own.empty) own.base = view.revision;
    take(view);
    set({
      document: own.newest ?? view.document,
      saveState: own.overtaken ? "overtaken" : own.empty ? "saved" : "saving",
    });
    if (own.overtaken) set({ notice: own.overtaken });
  }

  async function travel(way: "undo" | "redo") {
    if (box === null || box.overtaken) return;
    if (get().saveState === "waiting") return set({ notice: NO_TRAVEL });
    set({ saveState: "saving" });
    await box.add({ token: newToken(), way });
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
    asking: 0,
    result: null,
    open: async (id) => {
      box = null;
      set({ id, document: null, result: null, notice: null, live: {}, buildState: "none", saveState: "saved" });
      const known = fetchBuild(id).catch(() => undefined); // beside the part: neither waits for the other
      const own = await outboxOf(id);
      own.listener = heard(own);
      await load(id, own);
      await known;
      if (!isOpen(id)) return;
      box = own;
      watch(id);
      void own.send();
    },
    close: () => {
      closeLine();
      box = null;
      set({ id: null, document: null, result: null });
    },
    change: async (label, edit) => {
      const own = box;
      if (own === null || own.overtaken) return;
      // what an undo comes to is to be changed, not what was before it
      if (!own.empty && own.newest === null) await own.send();
      const { document } = get();
      if (!isOpen(own.part) || document === null) return;
      const next = edit(document);
      if (next === document) return;
      set({ document: next, saveState: "saving", canUndo: true, canRedo: false });
      await own.add({ token: newToken(), way: "save", label, document: next });
    },
    undo: () => travel("undo"),
    redo: () => travel("redo"),
    takeNewer: async () => {
      if (box === null) return;
      box.drop();
      await load(box.part, box);
      set({ notice: null });
    },
    keepAsNew: async () => {
      const { document } = get();
      if (box === null || document === null) return null;
      const kept = await api.openFile(JSON.stringify({ ...document, name: `${document.name} (mine)`.slice(0, 80) }));
      box.drop();
      return kept.id;
    },
    stopBuild: () => {
      const { id } = get();
      if (id !== null) void api.stopBuild(id);
    },
    say: (notice) => set({ notice }),
    meanwhile: async (question, change) => {
      set((s) => ({ asking: s.asking + 1 }));
      try {
        change(await question);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        set({ notice: error.detail });
      } finally {
        set((s) => ({ asking: s.asking - 1 }));
      }
    },
  };
});

/** How the saving of the part stands, as it is meant. */
export const savingOf = ({ saveState, asking }: PartState): SaveState =>
  saveState === "saved" && asking > 0 ? "saving" : saveState;

/** Whether what the builds say is of the part as it is. */
export const isCurrent = (s: PartState): boolean => savingOf(s) === "saved" && s.builtRevision === s.revision;

/** Once what was changed so far is saved. */
export const whenSaved = () =>
  new Promise<void>((done) => {
    if (usePart.getState().saveState === "saved") return done();
    const stop = usePart.subscribe((s) => {
      if (s.saveState !== "saved") return;
      stop();
      done();
    });
  });

export function stepOf(part: Part | null, id: string | null): Step | undefined {
  return part?.steps.find((s) => s.id === id);
}

export function reportOf(result: BuildData | null, id: string | null): StepReport | undefined {
  return id === null ? undefined : result?.steps[id];
}

/** A step of a document replaced by what `edit` makes of it. */
export function withStep<T extends Step>(part: Part, id: string, edit: (step: T) => T): Part {
  if (part.steps.every((s) => s.id !== id)) return part;
  return { ...part, steps: part.steps.map((s) => (s.id === id ? edit(s as T) : s)) };
}

export const freshId = (part: Part, stem: string): string => unusedId(part.steps, stem);
export const freshName = (part: Part, stem: string): string => unusedName(part.steps, stem);

export function unusedId(among: { id: string }[], stem: string): string {
  const taken = new Set(among.map((s) => s.id));
  for (let i = 1; ; i++) if (!taken.has(`${stem}${i}`)) return `${stem}${i}`;
}

export function unusedName(among: { name: string }[], stem: string): string {
  const taken = new Set(among.map((s) => s.name));
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
