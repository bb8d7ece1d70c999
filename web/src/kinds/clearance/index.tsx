import { commands } from "./commands";
import { room } from "../room";
import { ClearanceCards, ClearanceFoot } from "./ClearanceCards";

export default room({
  kind: "clearance",
  words: "room along a path",
  Cards: ClearanceCards,
  Foot: ClearanceFoot,
  commands,
  glyph: (
    <>
      <path d="M2 16C7 16 9 4 18 4" />
      <path d="M12 17h6v-5h-6z" />
      <path d="M11 9.500l3 2.500" strokeDasharray="1.500 1.500" />
    </>
  ),
});
