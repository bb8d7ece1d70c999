import { room } from "../room";
import { commands } from "./commands";
import { DividedCards } from "./DividedCards";

export default room({
  kind: "divided",
  words: "a body split in pieces",
  Cards: DividedCards,
  commands,
  glyph: (
    <>
      <path d="M3 6h5v9H3z" />
      <path d="M12 4h5v9h-5z" />
      <path d="M10 2v16" strokeDasharray="2 2" />
    </>
  ),
});
