/** The line to the server that an open editor has: how the builds of its part go on. It is opened again when it breaks. */
import { WebSocket as ReconnectingSocket } from "partysocket";
import type { BuildAnswer } from "./client";

interface Heard {
  /** The line stands, for the first time or again: what was said meanwhile is to be asked for. */
  opened: () => void;
  step: (id: string, state: string) => void;
  build: (state: BuildAnswer["state"]) => void;
}

type Said =
  { event: "step"; id: string; state: string } | { event: "build"; state: BuildAnswer["state"] } | { event: "picture" };

export interface Line {
  close: () => void;
}

export function openLine(part: string, heard: Heard): Line {
  const address = `${window.location.origin.replace(/^http/, "ws")}/api/parts/${part}/line`;
  const socket = new ReconnectingSocket(address, [], { minReconnectionDelay: 300, maxReconnectionDelay: 4000 });
  socket.addEventListener("open", heard.opened);
  socket.addEventListener("message", (event: MessageEvent<string>) => {
    const said = JSON.parse(event.data) as Said;
    if (said.event === "step") heard.step(said.id, said.state);
    else if (said.event === "build") heard.build(said.state);
  });
  return socket;
}
