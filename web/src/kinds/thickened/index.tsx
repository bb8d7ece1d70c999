import { WallsFoot } from "../../slip/WallsFoot";
import { room } from "../room";
import { commands } from "./commands";
import { wallLanes } from "./lanes";
import { ThickenedCards } from "./ThickenedCards";

export default room({
  kind: "thickened",
  words: "a surface made a solid",
  Cards: ThickenedCards,
  Foot: WallsFoot,
  lanes: wallLanes,
  commands,
  glyph: (
    <>
      <path d="M2 13c4-6 11-7 16-5" />
      <path d="M3.5 17c4-5 9-6 13.5-4.5M2 13l1.5 4M18 8l-1 4.5" />
    </>
  ),
});
