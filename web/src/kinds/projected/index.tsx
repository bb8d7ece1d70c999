import { commands } from "./commands";
import { room } from "../room";
import { ProjectedCards } from "../crossing/CrossingCards";

export default room({
  kind: "projected",
  words: "path laid onto a surface",
  Cards: ProjectedCards,
  commands,
  glyph: (
    <>
      <path d="M3 15c4 3 10 3 14 0" />
      <path d="M4 4c4 2 8 2 12 0" strokeDasharray="2 2" />
      <path d="M10 7v6M8 11l2 2 2-2" />
    </>
  ),
});
