/** Editing one step: show what a change would give at once, keep it when it is meant. */
import { useEffect, useMemo, useRef } from "react";
import { api, Refusal } from "../api/client";
import type { Step } from "../api/types";
import { usePart, withStep } from "../state/part";
import { useView } from "../state/view";

const SETTLE_MS = 40;

export interface Draft<T> {
  preview: (patch: Partial<T>) => void;
  commit: (label: string, patch: Partial<T>) => void;
}

export function useDraft<T extends Step>(id: string): Draft<T> {
  const timer = useRef<number | undefined>(undefined);
  const latest = useRef(0);
  const result = usePart((s) => s.result);
  useEffect(() => {
    // the exact result is here: what is still under way as a preview is out of date
    latest.current++;
    if (result?.steps[id]?.state === "fresh") useView.getState().setPreview(null);
  }, [result, id]);
  useEffect(() => () => {
    window.clearTimeout(timer.current);
    useView.getState().setPreview(null);
  }, [id]);
  return useMemo(() => {
    const show = async (patch: Partial<T>) => {
      const { document } = usePart.getState();
      if (document === null) return;
      const serial = ++latest.current;
      try {
        const answer = await api.preview(withStep<T>(document, id, (s) => ({ ...s, ...patch })), id);
        if (serial === latest.current && useView.getState().selected === id) {
          useView.getState().setPreview({ step: id, ...answer });
        }
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        usePart.getState().say(error.detail);
      }
    };
    return {
      preview: (patch) => {
        window.clearTimeout(timer.current);
        timer.current = window.setTimeout(() => void show(patch), SETTLE_MS);
      },
      commit: (label, patch) => {
        window.clearTimeout(timer.current);
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
