/** A sketch: its glyph is that of what it is used as. */
import { room } from "../room";
import { commands } from "./commands";
import { SketchCards } from "./SketchCards";

export default room({
  kind: "sketch",
  words: "sketch",
  Cards: SketchCards,
  commands,
  glyph: {
    path: <path d="M3 15c4-1 4-9 8-9s3 5 6 4" />,
    section: (
      <>
        <circle cx="10" cy="10" r="6" />
        <circle cx="10" cy="10" r="2.6" />
      </>
    ),
    rail: <path d="M3 6c4-3 9 3 14 0M3 14c4-3 9 3 14 0M6 6v7M13 5.5v7.5" />,
    free: <path d="M4 15L10 5l6 10z" />,
  },
});
