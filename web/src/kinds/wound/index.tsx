import { commands } from "./commands";
import { room } from "../room";
import { WoundCards } from "./WoundCards";

export default room({
  kind: "wound",
  words: "coil about a path",
  Cards: WoundCards,
  commands,
  glyph: (
    <>
      <path d="M3 14c5 1 5-8 14-9" strokeDasharray="2 2" />
      <path d="M3 11c0 5 4 5 4 1s-2-5-1-6 4 6 6 5-2-6-1-8 4 5 6 4" />
    </>
  ),
});
