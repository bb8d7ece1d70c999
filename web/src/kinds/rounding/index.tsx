import { later } from "../../ui/later";
import { room } from "../room";
import { commands } from "./commands";
import { RoundingCards } from "./RoundingCards";

export default room({
  kind: "rounding",
  words: "edges rounded or chamfered",
  Cards: RoundingCards,
  commands,
  Handles: later(() => import("./RoundingHandles")),
  glyph: (
    <>
      <path d="M3 17V10a7 7 0 0 1 7-7h7" />
      <path d="M3 3h2M8 3h0M3 7v0" strokeDasharray="1 2" />
    </>
  ),
});
