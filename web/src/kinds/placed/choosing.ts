/** Choosing a part of the list: who asks for one, while it is asked for. */
import { create } from "zustand";
import { api } from "../../api/client";
import { usePart } from "../../state/part";
import type { Chosen } from "./new";

interface Choosing {
  take: ((chosen: Chosen) => void) | null;
}

export const useChoosing = create<Choosing>(() => ({ take: null }));

export const choosePart = (take: (chosen: Chosen) => void) => useChoosing.setState({ take });

/** Keep a part's document as it is now; `take` is called once it is kept. */
export function keepPart(id: string, take: (chosen: Chosen) => void): void {
  const kept = ({ digest, title }: { digest: string; title: string }) => take({ part: id, file: digest, title });
  void usePart.getState().meanwhile(api.keepPart(id), kept);
}
