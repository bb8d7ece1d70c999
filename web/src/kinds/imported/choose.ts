/** Choosing a file of bodies or a mesh, which is kept before a step refers to it. */
import { api } from "../../api/client";
import { usePart } from "../../state/part";

export interface Chosen {
  file: string;
  title: string;
}

export const ACCEPTED = ".step,.stp,.stl,.STEP,.STP,.STL";

/** Whether a file, by its name, is a mesh, which does not say in what unit its numbers are. */
export const isMesh = (title: string): boolean => /\.stl$/i.test(title);

/** Keep a file on the server; `take` is called once it is kept. */
export function keep(file: File, take: (chosen: Chosen) => void): void {
  const kept = ({ digest }: { digest: string }) => take({ file: digest, title: file.name.slice(0, 120) });
  void usePart.getState().meanwhile(api.keepFile(file), kept);
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
  input.onchange = () => {
    const file = input.files?.[0];
    input.remove();
    if (file !== undefined) keep(file, take);
  };
  input.click();
}
