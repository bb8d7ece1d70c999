import { room } from "../room";
import { PlaneCards } from "./PlaneCards";

export default room({
  kind: "plane", words: "plane", Cards: PlaneCards,
  glyph: <path d="M3 12l6-6h8l-6 6z M10 9v7" />,
});
