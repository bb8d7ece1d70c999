import { room } from "../room";
import { commands } from "./commands";
import { PlaneCards } from "./PlaneCards";

export default room({
  kind: "plane",
  words: "plane",
  Cards: PlaneCards,
  commands,
  glyph: <path d="M3 12l6-6h8l-6 6z M10 9v7" />,
});
