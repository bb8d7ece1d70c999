import { room } from "../room";
import { commands } from "./commands";
import { ThreadFoot } from "./ThreadFoot";
import { ThreadedCards } from "./ThreadedCards";

export default room({
  kind: "threaded",
  words: "on a round face",
  Cards: ThreadedCards,
  Foot: ThreadFoot,
  dashed: (data) => data.thread?.lines ?? [],
  commands,
  glyph: <path d="M6 2v16M14 2v16M6 5l8 2.500M6 9l8 2.500M6 13l8 2.500" />,
});
