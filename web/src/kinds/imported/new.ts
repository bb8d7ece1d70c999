/** A new step of this kind, as it is to begin with. */
import type { Part } from "../../api/types";
import { givesOf } from "../../state/fields";
import { beginning } from "../../state/beginning";
import { useView } from "../../state/view";
import type { Chosen } from "./choose";
import type { ImportedStep } from "./step";

/** The bodies of a file that is kept, on the selected plane, or where they are in the file. */
export function newImported(part: Part, { file, title }: Chosen): ImportedStep {
  const { selected } = useView.getState();
  const plane = part.steps.find((s) => s.id === selected && givesOf(s) === "plane");
  return {
    ...beginning(part, "imported", title.replace(/\.[^.]*$/, "").slice(0, 60) || "Body from a file"),
    file,
    title,
    plane: plane === undefined ? { kind: "principal", plane: "XY" } : { kind: "step", step: plane.id },
  };
}
