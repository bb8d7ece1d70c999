/** Editing one step: show what a change would give at once, keep it when it is meant. */
import { useEffect, useMemo } from "react";
import { hand, type Previewed } from "../api/line";
import { NOT_YET, Refusal } from "../api/refusal";
import type { Part, Step } from "../api/types";
import { givesOf } from "../state/fields";
import { Follower } from "../state/follower";
import { stepOf, usePart, withStep } from "../state/part";
import { useView, type Preview } from "../state/view";

export interface Draft<T> {
  preview: (patch: Partial<T>) => void;
  commit: (label: string, patch: Partial<T>) => void;
}

/** Whether a step changes the bodies before it: without the kernel nothing can be shown of it. */
const onlyBuilt = (document: Part, id: string) => givesOf(stepOf(document, id)) === "change";

/**
 * What a step would be like, by the kernel where nothing else can tell: that takes as long as to build it, so it is
 * asked for while something moves alone, and what is kept of it is built anyway. Null when there is nothing new to be
 * shown.
 */
async function asked(document: Part, id: string, moving: boolean, changed: boolean): Promise<Previewed | null> {
  const built = () => (moving && changed ? hand.built(document, id) : null);
  if (onlyBuilt(document, id)) return built();
  const quick = await hand.preview(document, id, moving);
  const shown = quick === null || quick.mesh !== null || quick.report.data.copies !== undefined;
  return shown || !changed || givesOf(stepOf(document, id)) !== "copies" ? quick : built();
}

/** Whether a preview is of a step as it stands. */
export const isOf = (preview: Preview | null, step: Step | undefined): boolean =>
  step !== undefined && JSON.stringify(preview?.of) === JSON.stringify(step);

/** What a step would be like, the newest of what is asked shown as long as it is selected. */
function previewer<T extends Step>(id: string) {
  let latest = 0;
  const show = async (patch: Partial<T>, moving: boolean) => {
    const { document } = usePart.getState();
    if (document === null) return;
    const serial = ++latest;
    try {
      const changed = Object.keys(patch).length > 0;
      const meant = withStep<T>(document, id, (s) => ({ ...s, ...patch }));
      const answer = await asked(meant, id, moving, changed);
      const waits = answer?.report.messages.some((m) => m.code === NOT_YET);
      if (answer !== null && !waits && serial === latest && useView.getState().selected === id) {
        useView.getState().setPreview({ step: id, of: stepOf(meant, id)!, ...answer });
      }
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      usePart.getState().say(error.detail);
    }
  };
  const follower = new Follower<Partial<T>>(show);
  return {
    to: (patch: Partial<T>) => follower.to(patch),
    whole: (patch: Partial<T>) => {
      follower.stop();
      void show(patch, false);
    },
    /** Nothing more is asked, and what is under way is not shown any more. */
    drop: () => {
      latest++;
      follower.stop();
    },
  };
}

export function useDraft<T extends Step>(id: string): Draft<T> {
  const shown = useMemo(() => previewer<T>(id), [id]);
  const result = usePart((s) => s.result);
  useEffect(() => {
    // the exact result is here: what is still under way as a preview is out of date, and what is shown, unless it is
    // all there is of the step as it is
    shown.drop();
    const { preview, setPreview } = useView.getState();
    if (result?.steps[id]?.state === "fresh" || !isOf(preview, stepOf(usePart.getState().document, id)))
      setPreview(null);
  }, [result, id, shown]);
  useEffect(
    () => () => {
      shown.drop();
      useView.getState().setPreview(null);
    },
    [shown],
  );
  return useMemo(
    () => ({
      preview: shown.to,
      commit: (label, patch) => {
        shown.whole(patch);
        void usePart.getState().change(label, (p) => withStep<T>(p, id, (s) => ({ ...s, ...patch })));
      },
    }),
    [id, shown],
  );
}

/**
 * What a step is made of is planned where its previews are: once a hand moves something, the first answer takes no
 * longer than any other.
 */
export function makeReady(id: string): void {
  const { document } = usePart.getState();
  if (document === null || onlyBuilt(document, id)) return;
  hand.preview(document, id, true).catch((error: unknown) => {
    if (!(error instanceof Refusal)) throw error; // what is refused is told when it is asked for in earnest
  });
}

/** A step that is not built yet, or cannot be, is shown as a preview as soon as it is opened. */
export function useFirstPreview<T extends Step>(id: string, draft: Draft<T>): void {
  useEffect(() => {
    if (usePart.getState().result?.steps[id]?.state !== "fresh") draft.preview({});
  }, [id, draft]);
}
