import { room } from "../room";
import { commands } from "./commands";
import { PegCards } from "./PegCards";

export default room({
  kind: "peg",
  words: "round, on a plane",
  Cards: PegCards,
  commands,
  glyph: <path d="M6 4a4 1.500 0 0 0 8 0a4 1.500 0 0 0-8 0v11a4 1.500 0 0 0 8 0V4" />,
});
