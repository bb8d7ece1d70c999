import type { SheetRoom } from "../sheet";

const tube: SheetRoom = { name: "tube", title: "Bend sheet", fits: ({ data }) => data.bent !== undefined };

export default tube;
