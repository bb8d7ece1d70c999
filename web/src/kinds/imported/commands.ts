/** What makes a step of this kind. */
import { add } from "../../commands/add";
import type { Command } from "../../commands/command";
import { chooseFile } from "./choose";
import { newImported } from "./new";

export const commands: Command[] = [
  {
    id: "imported",
    title: "Body from a file",
    detail: "The solids of a STEP file with names and colours, or the mesh of an STL file",
    intent: "Shape",
    keys: "shift+F",
    fits: { nothing: 9, plane: 6 },
    run: () => chooseFile((chosen) => add("Body from a file", (p) => newImported(p, chosen))),
  },
];
