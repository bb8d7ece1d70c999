import { room } from "../room";
import { commands } from "./commands";
import { EmbossedCards } from "./EmbossedCards";
import { EmbossedFoot } from "./EmbossedFoot";

export default room({
  kind: "embossed",
  words: "an area raised or sunk",
  Cards: EmbossedCards,
  Foot: EmbossedFoot,
  commands,
  glyph: (
    <>
      <path d="M2 15c2-4 4-5 5-5" />
      <path d="M7 10V7c2-1 4-1 6 0v3" />
      <path d="M13 10c1 0 3 1 5 5" />
    </>
  ),
});
