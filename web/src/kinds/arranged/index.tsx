import { room } from "../room";
import { commands } from "./commands";
import { ArrangedCards } from "./ArrangedCards";
import { ArrangedFoot } from "./ArrangedFoot";

export default room({
  kind: "arranged",
  words: "bodies mirrored, moved or copied",
  Cards: ArrangedCards,
  Foot: ArrangedFoot,
  commands,
  glyph: (
    <>
      <path d="M3 8h5v5H3z" />
      <path d="M12 8h5v5h-5z" strokeDasharray="2 1.5" />
      <path d="M10 4v13" />
    </>
  ),
});
