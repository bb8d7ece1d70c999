/** Hangs at the cord's end; dragged up, the part is built only that far, and new steps are put there. */
import { useRef, useState } from "react";
import type { Part } from "../api/types";
import { usePart } from "../state/part";
import { ROW } from "./rows";
import styles from "./Cord.module.css";

interface Props {
  part: Part;
  places: Map<string, number>;
  rows: number;
}

export function Sinker({ part, places, rows }: Props) {
  const at = part.sinker === null ? part.steps.length : part.steps.findIndex((s) => s.id === part.sinker) + 1;
  const [pulled, setPulled] = useState<number | null>(null);
  const start = useRef(0);
  const rowOf = (count: number) =>
    count >= part.steps.length ? rows : (places.get(part.steps[count - 1]!.id) ?? 0) + 1;
  /** How many steps are above a row. */
  const above = (row: number) => part.steps.filter((s) => (places.get(s.id) ?? 0) < row).length;
  const put = (count: number) => {
    const clamped = Math.max(1, Math.min(part.steps.length, count));
    const sinker = clamped >= part.steps.length ? null : part.steps[clamped - 1]!.id;
    if (sinker !== part.sinker) void usePart.getState().change("Move the sinker", (p) => ({ ...p, sinker }));
  };
  if (part.steps.length === 0) return null;
  return (
    <div
      className={styles.sinker}
      style={{ top: (pulled ?? rowOf(at)) * ROW }}
      role="slider"
      tabIndex={0}
      aria-label="Sinker: build up to here"
      aria-valuemin={1}
      aria-valuemax={part.steps.length}
      aria-valuenow={at}
      title="Drag up to build only that far, and to put steps in there"
      onKeyDown={(e) => {
        if (e.key === "ArrowUp") put(at - 1);
        if (e.key === "ArrowDown") put(at + 1);
      }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        start.current = e.clientY;
        setPulled(rowOf(at));
      }}
      onPointerMove={(e) => {
        if (pulled === null) return;
        setPulled(Math.max(1, Math.min(rows, rowOf(at) + Math.round((e.clientY - start.current) / ROW))));
      }}
      onPointerUp={() => {
        if (pulled !== null && pulled !== rowOf(at)) put(above(pulled));
        setPulled(null);
      }}
    >
      <svg width="26" height="34" viewBox="0 0 26 34" aria-hidden="true">
        <path d="M13 0v9" stroke="var(--brass)" strokeWidth="2.5" />
        <path d="M13 8l7 7-3 15h-8l-3-15z" fill="var(--sea)" />
      </svg>
      {part.sinker !== null && <span className={styles.sinkerNote}>builds to here</span>}
    </div>
  );
}
