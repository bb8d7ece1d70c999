/** The sheets that there are, found by their folders. */
import type { SheetRoom } from "./sheet";

const found = import.meta.glob<{ default: SheetRoom }>("./*/index.tsx", { eager: true });

export const SHEETS: SheetRoom[] = Object.values(found).map((m) => m.default);
