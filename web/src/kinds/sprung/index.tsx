import { room } from "../room";
import { commands } from "./commands";
import { SpringFoot } from "./SpringFoot";
import { SprungCards } from "./SprungCards";

export default room({
  kind: "sprung",
  words: "a spring of round wire",
  Cards: SprungCards,
  stock: { sort: "wires", sizes: ["diameter"], take: (step, names) => ({ wire: names.diameter ?? step.wire }) },
  Foot: SpringFoot,
  commands,
  glyph: <path d="M4 17h12M4 17c0-2 12-1 12-4S4 12 4 9s12-2 12-5M4 3h12" />,
});
