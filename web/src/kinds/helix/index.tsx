import { commands } from "./commands";
import { room } from "../room";
import { HelixCards } from "./HelixCards";

export default room({
  kind: "helix",
  words: "path",
  Cards: HelixCards,
  commands,
  glyph: <path d="M4 16c0-3 12-3 12-6s-12-3-12-6M10 2v16" />,
});
