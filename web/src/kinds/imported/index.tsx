import { room } from "../room";
import { commands } from "./commands";
import { ImportedCards } from "./ImportedCards";
import { ImportedFoot } from "./ImportedFoot";

export default room({
  kind: "imported",
  words: "bodies from a file",
  Cards: ImportedCards,
  Foot: ImportedFoot,
  commands,
  glyph: (
    <>
      <path d="M5 3h7l3 3v11H5z" />
      <path d="M12 3v3h3" />
      <path d="M10 8v6M7.5 11.5L10 14l2.5-2.5" />
    </>
  ),
});
