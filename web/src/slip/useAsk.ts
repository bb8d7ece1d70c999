/** A question that a step answers to when a button is pressed; what the server says against it is said on the page. */
import { useMutation } from "@tanstack/react-query";
import { api } from "../api/client";
import { Refusal } from "../api/refusal";
import { savingOf, usePart } from "../state/part";

/** `waits` while the part is not saved as it is shown: the server answers for what is saved. */
export function useAsk<T>(step: string, question: string, onAnswer: (answer: T) => void = () => undefined) {
  const id = usePart((s) => s.id);
  const waits = usePart((s) => savingOf(s) !== "saved");
  const asked = useMutation({
    mutationFn: () => api.ask<T>(id!, step, question),
    onSuccess: (answer) => {
      usePart.getState().say(null);
      onAnswer(answer);
    },
    onError: (error) => {
      if (!(error instanceof Refusal)) throw error;
      usePart.getState().say(error.detail);
    },
  });
  return { ...asked, ask: () => asked.mutate(), waits };
}
