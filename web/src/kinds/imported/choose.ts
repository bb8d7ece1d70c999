/** Choosing a file of bodies, which is kept before a step refers to it. */
import { api } from "../../api/client";
import { Refusal } from "../../api/refusal";
import { usePart } from "../../state/part";

export interface Chosen {
  file: string;
  title: string;
}

export const ACCEPTED = ".step,.stp,.STEP,.STP";

/** Keep a file on the server; what it says against it is said on the page. */
export async function keep(file: File): Promise<Chosen | null> {
  try {
    const { digest } = await api.keepFile(file);
    return { file: digest, title: file.name.slice(0, 120) };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    usePart.getState().say(error.detail);
    return null;
  }
}

/** Ask for a file; `take` is called once it is kept. */
export function chooseFile(take: (chosen: Chosen) => void): void {
  document.querySelector("[data-choose]")?.remove();
  const input = document.createElement("input");
  input.type = "file";
  input.accept = ACCEPTED;
  input.hidden = true;
  input.dataset.choose = "";
  document.body.append(input); // what hangs nowhere may be cleared away while the person still looks for the file
  input.onchange = async () => {
    const file = input.files?.[0];
    input.remove();
    const chosen = file === undefined ? null : await keep(file);
    if (chosen !== null) take(chosen);
  };
  input.click();
}
