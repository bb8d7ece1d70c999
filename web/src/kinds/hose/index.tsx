import { later } from "../../ui/later";
import { commands } from "./commands";
import { room } from "../room";
import { HoseCards } from "./HoseCards";

export default room({
  kind: "hose",
  words: "path between two ports",
  Cards: HoseCards,
  stock: {
    sort: "hoses",
    sizes: ["least_bend"],
    take: (step, names) => ({ least_bend: names.least_bend ?? step.least_bend }),
  },
  Handles: later(() => import("./HoseHandles")),
  commands,
  glyph: <path d="M2 5h4c7 0 1 10 8 10h4M2 3v4M18 13v4" />,
});
