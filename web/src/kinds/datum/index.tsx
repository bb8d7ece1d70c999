import { later } from "../../ui/later";
import { room } from "../room";
import { commands } from "./commands";
import { DatumCards } from "./DatumCards";

export default room({
  kind: "datum",
  words: "plane",
  Cards: DatumCards,
  commands,
  Handles: later(() => import("./OffsetHandle")),
  glyph: <path d="M2 9l5-5h9l-5 5z M5 16l5-5h8l-5 5z" />,
});
