import { room } from "../room";
import { commands } from "./commands";
import { PartChooser } from "./PartChooser";
import { PlacedCards } from "./PlacedCards";

export default room({
  kind: "placed",
  words: "another part",
  Cards: PlacedCards,
  Window: PartChooser,
  commands,
  glyph: (
    <>
      <path d="M3 15l7-3 7 3-7 3z" />
      <path d="M6.5 5.5L10 4l3.5 1.5v4L10 11 6.5 9.5z" />
      <path d="M10 7v4M6.5 5.5L10 7l3.5-1.5" />
    </>
  ),
});
