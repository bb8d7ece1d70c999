/**
 * Changes of the open sketch: one after the other the server solves them, and what cannot be becomes a dispute and
 * changes nothing.
 */
import { api } from "../api/client";
import { NOT_YET, Refusal } from "../api/refusal";
import type { Message, Part, Sketch, SketchData, Vec2 } from "../api/types";
import { isDrawn, isSolved, withSketch } from "../state/drawings";
import { stepOf, usePart } from "../state/part";
import { removeItems } from "./edit/constraints";
import { freshSketchId } from "./edit/entities";
import { useSketch, whileBusy, type Dispute } from "./sketchStore";

/** What a change makes of a sketch, with the constraint or dimension that it adds; null for no change. */
export type Change = (sketch: Sketch) => { sketch: Sketch; added?: string } | Sketch | null;

const REPEATS: Message = {
  level: "warning",
  code: "repeats",
  text: "This is already decided by what is there.",
  way_out: "Leave it out, or give up one of these.",
  place: {},
};

let queue: Promise<unknown> = Promise.resolve();

function inTurn(work: () => Promise<boolean>): Promise<boolean> {
  return whileBusy(() => {
    const run = queue.then(work);
    queue = run.catch(() => undefined);
    return run;
  });
}

/** The items that a refusal names, as far as it does. */
const itemsOf = (message: Message): string[] => {
  const { items } = message.place;
  return Array.isArray(items) ? items.filter((i) => typeof i === "string") : [];
};

interface Try {
  label: string;
  tried: Sketch;
  /** The constraint or dimension that is new. */
  added?: string;
  /** Whether giving up what stands against it would let it through. */
  settled: boolean;
}

/** Ask the server, keep what it makes of the sketch, or say why it would not. */
async function kept(
  { label, tried, added, settled }: Try,
  ask: (part: Part, step: string) => Promise<SketchData>,
): Promise<boolean> {
  const { step, live, set } = useSketch.getState();
  const part = usePart.getState().document;
  if (step === null || part === null) return false;
  try {
    const data = await ask(withSketch(part, step, tried), step);
    if (data.decided_by.length > 0) {
      set({ dispute: { message: REPEATS, label, tried, added: added ?? null, against: data.decided_by } });
      return false;
    }
    set({ live: { ...live, ...data }, dispute: null });
    void usePart.getState().change(label, (p) => withSketch(p, step, data.sketch));
    return true;
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    const known = [...tried.constraints, ...tried.dimensions].map((c) => c.id);
    const against = settled ? itemsOf(error.detail).filter((i) => i !== added && known.includes(i)) : [];
    set({ dispute: { message: error.detail, label, tried, added: added ?? null, against } });
    return false;
  }
}

/** Change the sketch; whether it was kept. While something is mirrored about, what is drawn is mirrored with it. */
export function edit(label: string, change: Change): Promise<boolean> {
  return inTurn(async () => {
    const { live, mirrorAbout } = useSketch.getState();
    const made = live === null ? null : change(live.sketch);
    if (live === null || made === null) return false;
    const { sketch: tried, added } = "sketch" in made ? made : { sketch: made, added: undefined };
    const drawn = tried.entities.filter((e) => !live.sketch.entities.some((o) => o.id === e.id)).map((e) => e.id);
    if (mirrorAbout !== null && drawn.length > 0) {
      return kept({ label: `${label}, mirrored`, tried, settled: false }, (part, step) =>
        api.edit(part, step, { op: "mirror", items: drawn, about: mirrorAbout, live: true }),
      );
    }
    return kept({ label, tried, added, settled: true }, (part, step) => api.solve(part, step, added));
  });
}

/** One edit operation, carried out and solved by the server. */
export function operate(
  label: string,
  operation: Record<string, unknown>,
  ask: typeof api.edit = api.edit,
): Promise<boolean> {
  return inTurn(async () => {
    const { live } = useSketch.getState();
    return (
      live !== null && kept({ label, tried: live.sketch, settled: false }, (part, step) => ask(part, step, operation))
    );
  });
}

/** Bring reference geometry in, or attach what lost its source to it. */
export function project(source: string, what: string, item: string): void {
  const { attach, set } = useSketch.getState();
  const operation = { op: "project", source, what, item, replace: attach };
  void operate(attach === null ? "Project" : "Attach again", operation, projected).then(
    (kept) => kept && set({ attach: null }),
  );
}

/** The sketch with something projected; where only the body that is built can tell what it looks like, it is asked. */
async function projected(part: Part, step: string, operation: Record<string, unknown>): Promise<SketchData> {
  try {
    return await api.edit(part, step, operation);
  } catch (error) {
    const { id } = usePart.getState();
    if (!(error instanceof Refusal) || error.detail.code !== NOT_YET || id === null) throw error;
    const { source, what, item } = operation;
    const images = await api.ask(id, step, "images", { source, what, item });
    return api.edit(part, step, { ...operation, images });
  }
}

/**
 * The sketch with what is projected of built bodies where it stood in the last build: only a build can tell where that
 * is.
 */
function asBuilt(sketch: Sketch, step: string): Sketch {
  const { result, builtRevision, revision } = usePart.getState();
  const data = result?.steps[step]?.data;
  const of = sketch.projections.filter((p) => p.what === "edge" || p.what === "face");
  if (of.length === 0 || builtRevision !== revision || !isSolved(data)) return sketch;
  const items = new Set(of.flatMap((p) => [...p.points, ...(p.entities ?? [])]));
  const points = new Map(data.sketch.points.map((p) => [p.id, p]));
  const entities = new Map(data.sketch.entities.map((e) => [e.id, e]));
  return {
    ...sketch,
    points: sketch.points.map((p) => (items.has(p.id) && points.get(p.id)) || p),
    entities: sketch.entities.map((e) => (items.has(e.id) && entities.get(e.id)) || e),
  };
}

/** Solve the sketch as it is saved. */
export async function refresh(): Promise<void> {
  const { step, set } = useSketch.getState();
  const part = usePart.getState().document;
  const current = stepOf(part, step);
  if (step === null || part === null || !isDrawn(current)) return;
  try {
    const data = await api.solve(withSketch(part, step, asBuilt(current.sketch, step)), step);
    if (useSketch.getState().step === step) set({ live: data, dispute: null });
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    const live: SketchData = {
      sketch: current.sketch,
      freedom: 0,
      free: [],
      repeated: [],
      measured: {},
      motions: [],
      curves: {},
      combs: {},
      lost: [],
      figure: "",
      decided_by: [],
      faults: {},
    };
    set({
      live,
      dispute: {
        message: error.detail,
        label: "Mend the sketch",
        tried: current.sketch,
        added: null,
        against: itemsOf(error.detail),
      },
    });
  }
}

/** Open a sketch; an empty one with the line in hand. */
export async function begin(step: string): Promise<void> {
  useSketch.getState().open(step);
  await refresh();
  const { step: now, live, tool, set } = useSketch.getState();
  if (now === step && live?.sketch.entities.length === 0 && tool === "select") set({ tool: "line" });
}

/** Settle a dispute by giving up one of those who stand against it. */
export function giveUp(dispute: Dispute, item: string): void {
  const without = removeItems(dispute.tried, new Set([item]));
  void edit(`${dispute.label}, give up ${item}`, () => ({
    sketch: without,
    ...(dispute.added ? { added: dispute.added } : {}),
  }));
}

/** Keep the new dimension as a reference: shown, not held. */
export function keepAsReference(dispute: Dispute): void {
  const dimensions = dispute.tried.dimensions.map((d) => (d.id === dispute.added ? { ...d, driving: false } : d));
  void edit("Add a reference dimension", () => ({ ...dispute.tried, dimensions }));
}

export function addDimension(
  sketch: Sketch,
  made: { kind: Sketch["dimensions"][number]["kind"]; items: string[] },
  value: number,
  at: Vec2,
) {
  const id = freshSketchId(sketch, "d");
  const dimension = { id, ...made, value, driving: true, at, side: "near" as const };
  return { sketch: { ...sketch, dimensions: [...sketch.dimensions, dimension] }, added: id };
}
