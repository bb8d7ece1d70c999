import { commands } from "./commands";
import { room } from "../room";
import { CurveCards } from "./CurveCards";

export default room({
  kind: "curve",
  words: "curve in space",
  Cards: CurveCards,
  commands,
  glyph: (
    <>
      <path d="M3 15C5 3 15 3 17 13" />
      <circle cx="3" cy="15" r="1.4" />
      <circle cx="17" cy="13" r="1.4" />
    </>
  ),
});
