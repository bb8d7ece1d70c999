import type { SheetRoom } from "../sheet";

const washer: SheetRoom = { name: "washer", title: "Washer sheet", fits: ({ data }) => data.ring !== undefined };

export default washer;
