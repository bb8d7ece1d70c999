import { later } from "../../ui/later";
import { room } from "../room";
import { commands } from "./commands";
import { LoftCards } from "./LoftCards";

export default room({
  kind: "loft",
  words: "sections that go over into one another, ruled",
  Cards: LoftCards,
  Handles: later(() => import("./LoftHandles")),
  commands,
  glyph: (
    <>
      <path d="M3 16h8l4-11h-3" />
      <ellipse cx="13" cy="5" rx="3" ry="1.6" />
      <path d="M3 16l7-11" />
    </>
  ),
});
