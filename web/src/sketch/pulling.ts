/**
 * Points of the open sketch that are pulled: the server says where everything goes, the latest place of the pointer
 * first.
 */
import { hand } from "../api/line";
import { Refusal } from "../api/refusal";
import type { Part, Sketch, Vec2 } from "../api/types";
import { withSketch } from "../state/drawings";
import { usePart } from "../state/part";
import { edit } from "./changes";
import { withMoved } from "./moved";
import { useSketch, whileBusy } from "./sketchStore";

interface Dragging {
  item: string;
  to: Vec2 | null;
  /** The part as it was when the drag began, so that all of its asks are about one document. */
  document: Part;
  busy: boolean;
  done: Promise<void>;
}

let dragging: Dragging | null = null;

/** Whether anything stands elsewhere: a pull against what holds moves nothing and is no edit. */
function differs(a: Sketch, b: Sketch): boolean {
  const sizes = (s: Sketch) => [
    ...s.points.flatMap((p) => [p.x, p.y]),
    ...s.entities.map((e) => ("radius" in e ? e.radius : 0)),
  ];
  const [from, to] = [sizes(a), sizes(b)];
  return from.length !== to.length || from.some((v, i) => Math.abs(v - to[i]!) > 1e-9);
}

async function pull(): Promise<void> {
  while (dragging?.to) {
    const { item, to, document } = dragging;
    dragging.to = null;
    const { step, live, set } = useSketch.getState();
    if (step === null || live === null) return;
    try {
      const moved = await hand.drag(document, step, item, to);
      if (moved !== null) set({ moved: withMoved(live, moved), pulled: { item, to } });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
    }
  }
  if (dragging) dragging.busy = false;
}

export function drag(item: string, to: Vec2): void {
  if (dragging === null || dragging.item !== item) {
    const { step, live } = useSketch.getState();
    const part = usePart.getState().document;
    if (step === null || part === null || live === null) return;
    const document = withSketch(part, step, live.sketch);
    dragging = { item, to: null, document, busy: false, done: Promise.resolve() };
  }
  dragging.to = to;
  if (!dragging.busy) {
    dragging.busy = true;
    dragging.done = pull();
  }
}

/** Let go: what was pulled is kept where it went. */
export async function drop(): Promise<void> {
  await whileBusy(async () => {
    await dragging?.done;
    dragging = null;
    const { moved, live } = useSketch.getState();
    if (moved !== null && live !== null && differs(moved.sketch, live.sketch)) await edit("Drag", () => moved.sketch);
  }).finally(() => useSketch.getState().set({ moved: null, pulled: null }));
}
