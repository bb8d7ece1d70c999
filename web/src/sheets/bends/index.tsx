import { Runs } from "./Runs";
import type { SheetRoom } from "../sheet";

const bends: SheetRoom = {
  name: "bends",
  title: "Bends",
  fits: ({ data }) => data.route !== undefined && (data.route.straight > 0 || data.route.bends.length > 0),
  Short: Runs,
};

export default bends;
