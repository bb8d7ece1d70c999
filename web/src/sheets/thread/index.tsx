import type { SheetRoom } from "../sheet";

const thread: SheetRoom = { name: "thread", title: "Thread sheet", fits: ({ data }) => data.thread !== undefined };

export default thread;
