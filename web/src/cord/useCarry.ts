/** Carrying a step along the cord to another place, as far as what it uses and what uses it allow. */
import { useRef, useState, type PointerEvent } from "react";
import type { Part, Step } from "../api/types";
import { usePart } from "../state/part";
import { moveStep, roomOnCord } from "../state/steps";
import { ROW, type CordRow } from "./rows";

const SLACK_PX = 6; // under which a press is a click

export interface Carried {
  step: Step;
  /** The row over which it would come to stand. */
  row: number;
  /** Why it cannot go further. */
  reason: string | null;
}

/** The place among the steps that a row on the cord stands for, seen from a step that is carried there. */
function placeOf(part: Part, rows: CordRow[], row: number, at: number): number {
  const next = rows.slice(Math.max(0, row)).find((r) => r.step !== undefined || r.group.folded);
  if (next === undefined) return part.steps.length - 1;
  const id = next.step?.id ?? next.group!.steps[0]!;
  const index = part.steps.findIndex((s) => s.id === id);
  return index > at ? index - 1 : index;
}

export function useCarry(part: Part | null, rows: CordRow[]) {
  const [carried, setCarried] = useState<Carried | null>(null);
  const from = useRef<{ y: number; row: number; step: Step } | null>(null);
  const to = useRef<number | null>(null);
  const begin = (e: PointerEvent, step: Step, row: number) => {
    if (e.button === 0) from.current = { y: e.clientY, row, step };
  };
  const move = (e: PointerEvent) => {
    const start = from.current;
    if (start === null || part === null || Math.abs(e.clientY - start.y) < SLACK_PX) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const at = part.steps.findIndex((s) => s.id === start.step.id);
    const shift = (e.clientY - start.y) / ROW;
    const row = Math.max(
      0,
      Math.min(rows.length, start.row + (shift > 0 ? Math.floor(shift + 1.5) : Math.ceil(shift - 0.5))),
    );
    const wanted = placeOf(part, rows, row, at);
    const room = roomOnCord(part, start.step.id);
    const place = Math.max(room.low, Math.min(room.high, wanted));
    const reason =
      wanted < room.low && room.above !== null
        ? `It uses “${room.above.name}”`
        : wanted > room.high && room.below !== null
          ? `“${room.below.name}” uses it`
          : null;
    to.current = place;
    setCarried({ step: start.step, row, reason });
  };
  const end = () => {
    const start = from.current;
    const place = to.current;
    from.current = to.current = null;
    setCarried(null);
    if (start === null || place === null) return;
    void usePart.getState().change(`Move ${start.step.name}`, (p) => moveStep(p, start.step.id, place));
  };
  const cancel = () => {
    from.current = to.current = null;
    setCarried(null);
  };
  return { carried, begin, move, end, cancel };
}
