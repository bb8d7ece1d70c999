import { commands } from "./commands";
import { room } from "../room";
import { JoinedCards } from "./JoinedCards";

export default room({
  kind: "joined",
  words: "paths end to end",
  Cards: JoinedCards,
  commands,
  glyph: (
    <>
      <path d="M2 14h5M9 14l4-8M14 5h4" />
      <circle cx="8" cy="14" r="1.4" />
      <circle cx="13.5" cy="5.2" r="1.4" />
    </>
  ),
});
