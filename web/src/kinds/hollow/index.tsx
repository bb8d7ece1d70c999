import { room } from "../room";
import { commands } from "./commands";
import { HollowCards } from "./HollowCards";
import { WallsFoot } from "../../slip/WallsFoot";

export default room({
  kind: "hollow",
  words: "a body as a wall of itself",
  Cards: HollowCards,
  Foot: WallsFoot,
  commands,
  glyph: (
    <>
      <path d="M3 4v10a3 3 0 0 0 3 3h8a3 3 0 0 0 3-3V4" />
      <path d="M6 4v9a1 1 0 0 0 1 1h6a1 1 0 0 0 1-1V4" />
    </>
  ),
});
