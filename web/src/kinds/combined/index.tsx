import { room } from "../room";
import { CombinedCards } from "./CombinedCards";
import { commands } from "./commands";

export default room({
  kind: "combined",
  words: "bodies put together",
  Cards: CombinedCards,
  commands,
  glyph: (
    <>
      <path d="M3 7h8v8H3z" />
      <path d="M8 7V4h9v8h-6" />
    </>
  ),
});
