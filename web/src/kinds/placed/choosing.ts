/** Choosing a part of the list: who asks for one, while it is asked for. */
import { create } from "zustand";
import { api } from "../../api/client";
import { Refusal } from "../../api/refusal";
import { usePart } from "../../state/part";
import type { Chosen } from "./new";

interface Choosing {
  take: ((chosen: Chosen) => void) | null;
}

export const useChoosing = create<Choosing>(() => ({ take: null }));

export const choosePart = (take: (chosen: Chosen) => void) => useChoosing.setState({ take });

/** Keep a part's document as it is now; what the server says against it is said on the page. */
export async function keepPart(id: string): Promise<Chosen | null> {
  try {
    const { digest, title } = await api.keepPart(id);
    return { part: id, file: digest, title };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    usePart.getState().say(error.detail);
    return null;
  }
}
