import { commands } from "./commands";
import { room } from "../room";
import { DerivedCards } from "./DerivedCards";

export default room({
  kind: "derived",
  words: "path from another",
  Cards: DerivedCards,
  commands,
  glyph: (
    <>
      <path d="M2 15c5 0 5-7 10-7" strokeDasharray="2 2" />
      <path d="M6 17c5 0 6-8 12-8" />
    </>
  ),
});
