/** The marks of a law on its lane: drag them, or move the focused one by the arrow keys. */
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Step } from "../api/types";
import { makeReady, useDraft } from "../slip/draft";
import { trim } from "../ui/format";
import type { Mark } from "../state/laws";
import styles from "./LawMarks.module.css";

interface Props {
  step: Step;
  marks: Mark[];
  title: string;
  unit: string;
  width: number;
  height: number;
  gutter: number;
  right: number;
  length: number;
  range: [number, number];
  /** While a mark is held its lane stands still. */
  onHold: (range: [number, number] | null) => void;
}

export const PAD_TOP = 9;
export const PAD_BOTTOM = 6;

export function LawMarks({ step, marks, title, unit, width, height, gutter, right, length, range, onHold }: Props) {
  const draft = useDraft<Step>(step.id);
  useEffect(() => makeReady(step.id), [step.id]);
  const frame = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<{ i: number; at: number; value: number } | null>(null);
  const [low, high] = range;
  const plot = Math.max(1, width - gutter - right);
  const tall = height - PAD_TOP - PAD_BOTTOM;
  const place = (at: number, value: number): [number, number] => [
    gutter + (at / length) * plot,
    PAD_TOP + (1 - (value - low) / (high - low)) * tall,
  ];
  const here = (e: PointerEvent): [number, number] => {
    const box = frame.current!.getBoundingClientRect();
    const at = Math.min(length, Math.max(0, ((e.clientX - box.left - gutter) / plot) * length));
    return [at, low + (1 - (e.clientY - box.top - PAD_TOP) / tall) * (high - low)];
  };
  const onDown = (i: number) => (e: PointerEvent<SVGCircleElement>) => {
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    setHeld({ i, at: marks[i]!.at, value: marks[i]!.value });
    onHold(range);
  };
  const onMove = (e: PointerEvent) => {
    if (held === null) return;
    e.stopPropagation();
    const mark = marks[held.i]!;
    const [at, value] = here(e);
    const to = { ...held, at: mark.fixed ? mark.at : at, value };
    setHeld(to);
    draft.preview(mark.moved(to.at, to.value));
  };
  const onUp = (e: PointerEvent) => {
    if (held === null) return;
    e.stopPropagation();
    const mark = marks[held.i]!;
    setHeld(null);
    onHold(null);
    if (held.at !== mark.at || held.value !== mark.value)
      draft.commit(`Drag the ${title}`, mark.moved(held.at, held.value));
  };
  const onKey = (i: number) => (e: KeyboardEvent) => {
    const mark = marks[i]!;
    const fine = e.shiftKey ? 10 : 1;
    const across = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    const up = { ArrowUp: 1, ArrowDown: -1 }[e.key];
    if (across === undefined && up === undefined) return;
    e.preventDefault();
    e.stopPropagation();
    const at = mark.fixed ? mark.at : Math.min(length, Math.max(0, mark.at + ((across ?? 0) * fine * length) / 100));
    draft.commit(`Move the ${title}`, mark.moved(at, mark.value + (up ?? 0) * fine * (unit === "°" ? 1 : 0.01)));
  };
  return (
    <svg ref={frame} className={styles.lawMarks} data-testid="law-marks" width={width} height={height}>
      {marks.map((m, i) => {
        const shown = held?.i === i ? held : m;
        const [x, y] = place(shown.at, shown.value);
        return (
          <g key={i}>
            <circle
              cx={x}
              cy={Math.min(height - 4, Math.max(4, y))}
              r="5.5"
              role="slider"
              tabIndex={0}
              aria-label={`${title} mark ${i + 1}`}
              aria-valuenow={shown.value}
              aria-valuetext={`${trim(shown.value)} ${unit} at ${trim(shown.at)} mm`}
              onPointerDown={onDown(i)}
              onPointerMove={onMove}
              onPointerUp={onUp}
              onKeyDown={onKey(i)}
            />
            {held?.i === i && (
              <text
                x={x > width - 80 ? x - 9 : x + 9}
                y={Math.max(12, y - 6)}
                textAnchor={x > width - 80 ? "end" : "start"}
              >
                {trim(shown.value)} {unit}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
