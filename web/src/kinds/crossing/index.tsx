import { commands } from "./commands";
import { room } from "../room";
import { CrossingCards } from "./CrossingCards";

export default room({
  kind: "crossing",
  words: "where two surfaces cross",
  Cards: CrossingCards,
  commands,
  glyph: <path d="M3 6h14v4H3zM8 2v16M12 2v16M8 10c1 2 3 2 4 0" />,
});
