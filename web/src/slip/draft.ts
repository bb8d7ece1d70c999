/** Editing one step: show what a change would give at once, keep it when it is meant. */
import { useEffect, useMemo, useRef } from "react";
import { api, Refusal } from "../api/client";
import type { Step } from "../api/types";
import { usePart, withStep } from "../state/part";
import { useView } from "../state/view";

export interface Draft<T> {
  preview: (patch: Partial<T>) => void;
  commit: (label: string, patch: Partial<T>) => void;
}

export function useDraft<T extends Step>(id: string): Draft<T> {
  const latest = useRef(0);
  /** What is asked for while another preview is under way: the newest alone is asked next. */
  const waiting = useRef<Partial<T> | null>(null);
  const busy = useRef(false);
  const result = usePart((s) => s.result);
  useEffect(() => {
    // the exact result is here: what is still under way as a preview is out of date
    latest.current++;
    waiting.current = null;
    if (result?.steps[id]?.state === "fresh") useView.getState().setPreview(null);
  }, [result, id]);
  useEffect(
    () => () => {
      waiting.current = null;
      useView.getState().setPreview(null);
    },
    [id],
  );
  return useMemo(() => {
    const show = async (patch: Partial<T>) => {
      const { document } = usePart.getState();
      if (document === null) return;
      const serial = ++latest.current;
      try {
        const answer = await api.preview(
          withStep<T>(document, id, (s) => ({ ...s, ...patch })),
          id,
        );
        if (serial === latest.current && useView.getState().selected === id) {
          useView.getState().setPreview({ step: id, ...answer });
        }
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        usePart.getState().say(error.detail);
      }
    };
    const pull = async () => {
      if (busy.current) return;
      busy.current = true;
      while (waiting.current !== null) {
        const patch = waiting.current;
        waiting.current = null;
        await show(patch);
      }
      busy.current = false;
    };
    return {
      preview: (patch) => {
        waiting.current = patch;
        void pull();
      },
      commit: (label, patch) => {
        waiting.current = null;
        void show(patch);
        void usePart.getState().change(label, (p) => withStep<T>(p, id, (s) => ({ ...s, ...patch })));
      },
    };
  }, [id]);
}

/** A step that is not built yet, or cannot be, is shown as a preview as soon as it is opened. */
export function useFirstPreview<T extends Step>(id: string, draft: Draft<T>): void {
  useEffect(() => {
    if (usePart.getState().result?.steps[id]?.state !== "fresh") draft.preview({});
  }, [id, draft]);
}
