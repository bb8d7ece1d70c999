import { commands } from "./commands";
import { room } from "../room";
import { EdgesCards } from "./EdgesCards";

export default room({
  kind: "edges",
  words: "edges as a path",
  Cards: EdgesCards,
  commands,
  glyph: (
    <>
      <path d="M4 8l6-3 6 3v6l-6 3-6-3z" strokeWidth="0.9" opacity="0.6" />
      <path d="M4 8l6 3 6-3M10 11v6" strokeWidth="2.2" />
    </>
  ),
});
