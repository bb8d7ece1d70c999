/** The rooms of all kinds, found by their folders. */
import type { Room } from "./room";

const found = import.meta.glob<{ default: Room }>("./*/index.tsx", { eager: true });

const ROOMS = new Map<string, Room>(Object.values(found).map((m) => [m.default.kind, m.default]));

/** The room of a kind; none of one that this program was not made with. */
export const roomOf = (kind: string): Room | undefined => ROOMS.get(kind);

export const rooms = (): Room[] => [...ROOMS.values()];

export const roomKinds = (): string[] => [...ROOMS.keys()].sort();
