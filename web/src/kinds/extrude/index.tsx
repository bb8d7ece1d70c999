import { commands } from "./commands";
import { room } from "../room";
import { ExtrudeCards } from "./ExtrudeCards";

export default room({
  kind: "extrude",
  words: "profile carried straight",
  Cards: ExtrudeCards,
  commands,
  glyph: <path d="M4 8l6-3 6 3v6l-6 3-6-3z M4 8l6 3 6-3 M10 11v6" />,
});
