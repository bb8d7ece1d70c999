import type { SheetRoom } from "../sheet";

const peg: SheetRoom = { name: "peg", title: "Peg sheet", fits: ({ data }) => data.lanes !== undefined };

export default peg;
