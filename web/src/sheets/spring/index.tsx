import type { SheetRoom } from "../sheet";

const spring: SheetRoom = { name: "spring", title: "Spring sheet", fits: ({ data }) => data.spring !== undefined };

export default spring;
