import { later } from "../../ui/later";
import { commands } from "./commands";
import { room } from "../room";
import { RouteCards } from "./RouteCards";

export default room({
  kind: "route",
  words: "path through points",
  Cards: RouteCards,
  stock: { sort: "tubes", sizes: ["least_bend"], take: (step, names) => ({ radius: names.least_bend ?? step.radius }) },
  Handles: later(() => import("./RouteHandles")),
  commands,
  glyph: <path d="M3 16V9c0-3 1-4 4-4h3M13 5h4M3 16h0M10 5h3M17 5v0" />,
});
