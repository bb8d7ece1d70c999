import { later } from "../../ui/later";
import { room } from "../room";
import { BentCards } from "./BentCards";
import { BentFoot } from "./BentFoot";
import { commands } from "./commands";

export default room({
  kind: "bent",
  words: "how a tube is bent",
  Cards: BentCards,
  Foot: BentFoot,
  stock: { sort: "tubes", sizes: ["stock"], take: (_, { stock }) => (stock ? { stock } : {}) },
  Scene: later(() => import("./BenderScene")),
  commands,
  glyph: (
    <>
      <path d="M3 18v-6a6 6 0 0 1 6-6h9" />
      <path d="M9 18v-5a1 1 0 0 1 1-1h8" />
    </>
  ),
});
