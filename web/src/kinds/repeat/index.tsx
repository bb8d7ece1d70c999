import { commands } from "./commands";
import { room } from "../room";
import { RepeatCards, CopiesFoot } from "./RepeatCards";

export default room({
  kind: "repeat",
  words: "copies along a path",
  Cards: RepeatCards,
  Foot: CopiesFoot,
  commands,
  glyph: <path d="M2 14c5 1 11-7 16-6M3 9v5h3V9zM8.500 6v5h3V6zM14 3.500v5h3v-5z" />,
});
