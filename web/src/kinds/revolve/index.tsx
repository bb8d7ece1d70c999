import { commands } from "./commands";
import { room } from "../room";
import { RevolveCards } from "./RevolveCards";

export default room({
  kind: "revolve",
  words: "profile carried round an axis",
  Cards: RevolveCards,
  commands,
  glyph: <path d="M10 2v16M10 5h4v4l-2 2v4h-2M6 8c-3 1-3 4 0 5M4.500 12.500L6 13l-.300 1.700" />,
});
