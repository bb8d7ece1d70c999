/** Everything known along the path, as lanes over station; the cursor is tied to the stage and the lens. */
import { useComputedColorScheme } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import clsx from "clsx";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Step, SweepData, Units } from "../api/types";
import { isSwept } from "../state/sweeps";
import { valueAt } from "../geometry/space";
import { sweptFor } from "../state/roles";
import { usePart } from "../state/part";
import { useView, type LaneName } from "../state/view";
import { inUnits, length, trim } from "../ui/format";
import { givesOf } from "../state/fields";
import { clearancesFor, type Clear } from "../state/checks";
import { ClearLane, ClearLanes } from "./ClearLane";
import { CopiesLanes } from "./CopiesLanes";
import { Lane } from "./Lane";
import { roomOf } from "../kinds/rooms";
import type { Mark, OwnLane } from "../state/laws";
import { LANE_NAMES, laneData, speaks, type LaneData } from "./lanes";
import { LawMarks } from "./LawMarks";
import { SectionLens } from "./SectionLens";
import styles from "./StationStrip.module.css";

export const GUTTER = 62;
const RIGHT = 12;
const SAME_PATH = 1e-6; // mm that two lengths of one path may differ

export function StationStrip() {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const selected = useView((s) => s.selected);
  const preview = useView((s) => s.preview);
  const swept = part === null ? null : sweptFor(part, selected);
  const report = preview !== null && preview.step === swept ? preview.report : result?.steps[swept ?? ""];
  const data = isSwept(report?.data) ? report.data : undefined;
  const step = part?.steps.find((s) => s.id === swept);
  const chosen = part?.steps.find((s) => s.id === selected);
  const own = useOwnLanes(chosen);
  const copies =
    preview !== null && preview.step === selected
      ? preview.report.data.copies
      : result?.steps[selected ?? ""]?.data.copies;
  if (part !== null && chosen !== undefined && copies !== undefined) {
    return (
      <section className={styles.strip} aria-label="Station strip">
        <CopiesLanes name={chosen.name} copies={copies} units={part.units} />
      </section>
    );
  }
  const clears = part === null ? [] : clearancesFor(part, result, swept ?? selected);
  if (part !== null && chosen !== undefined && givesOf(chosen) === "nothing" && swept === null && clears.length > 0) {
    return (
      <section className={styles.strip} aria-label="Station strip">
        <ClearLanes clear={clears[0]!} units={part.units} />
      </section>
    );
  }
  if (part === null || data === undefined) {
    return (
      <section className={styles.strip} data-empty aria-label="Station strip">
        <p className="soft">The station strip: bend radius, twist and the section along a sweep, once there is one.</p>
      </section>
    );
  }
  return (
    <section className={styles.strip} aria-label="Station strip">
      <Lanes
        data={data}
        units={part.units}
        step={step}
        failed={report?.state === "failed"}
        own={chosen === undefined ? null : { step: chosen, lanes: own }}
        clears={clears.filter((c) => Math.abs(c.data.length - data.length) < SAME_PATH)}
      />
      <SectionLens data={data} units={part.units} />
    </section>
  );
}

/** The lanes that the selected step has of its own, as it is shown. */
function useOwnLanes(chosen: Step | undefined): OwnLane[] {
  const units = usePart((s) => s.document?.units ?? "mm");
  const built = usePart((s) => s.result?.steps[chosen?.id ?? ""]);
  const preview = useView((s) => (s.preview !== null && s.preview.step === chosen?.id ? s.preview.report : undefined));
  const data = (preview ?? built)?.data;
  return chosen === undefined || data === undefined ? [] : (roomOf(chosen.kind)?.lanes?.(chosen, data, units) ?? []);
}

interface LanesProps {
  data: SweepData;
  units: Units;
  step: Step | undefined;
  failed: boolean;
  /** Of the selected step, along the same path. */
  own: { step: Step; lanes: OwnLane[] } | null;
  clears: Clear[];
}

function Lanes({ data, units, step, failed, own, clears }: LanesProps) {
  const { ref, width, height } = useElementSize();
  const station = useView((s) => s.station);
  const { setStation } = useView.getState();
  const held = useRef(false);
  const scheme = useComputedColorScheme("light");
  const plot = Math.max(40, width - GUTTER - RIGHT);
  const at = station === null ? null : Math.min(data.length, Math.max(0, station));
  const toStation = (e: PointerEvent) => {
    const box = e.currentTarget.getBoundingClientRect();
    setStation(Math.min(data.length, Math.max(0, ((e.clientX - box.left - GUTTER) / plot) * data.length)));
  };
  const onKey = (e: KeyboardEvent) => {
    const step = data.length / (e.shiftKey ? 10 : 100);
    if (e.key === "ArrowRight") setStation(Math.min(data.length, (at ?? 0) + step));
    else if (e.key === "ArrowLeft") setStation(Math.max(0, (at ?? 0) - step));
    else if (e.key === "Home") setStation(0);
    else if (e.key === "End") setStation(data.length);
    else return;
    e.preventDefault();
  };
  const here = at === null ? null : valueAt(data.lanes, data.lanes.radius, at);
  const twist = at === null ? null : valueAt(data.lanes, data.lanes.twist, at);
  const chosen = useView((s) => s.lanes);
  const marksOf = (name: LaneName, row: number) =>
    step === undefined ? [] : (roomOf(step.kind)?.marks?.(step, name, row, data, units) ?? []);
  const open = LANE_NAMES.map((l) => l.name).filter(
    (name) => chosen[name] ?? (speaks(name, data) || marksOf(name, 0).some((m) => m.fixed !== true)),
  );
  const shown = open.flatMap((name) => laneData(name, data, units).map((lane, row) => ({ lane, row })));
  const added = own?.lanes ?? [];
  const count = shown.length + added.length + clears.length;
  const laneHeight = Math.max(30, (height - 46) / Math.max(1, count));
  const x = data.lanes.station.map((s) => inUnits(s, units));
  return (
    <div
      className={styles.lanes}
      ref={ref}
      role="slider"
      tabIndex={0}
      aria-label="Station"
      aria-valuemin={0}
      aria-valuemax={data.length}
      aria-valuenow={at ?? 0}
      aria-valuetext={at === null ? "none" : length(at, units)}
      onKeyDown={onKey}
      onPointerDown={(e) => {
        held.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
        toStation(e);
      }}
      onPointerMove={(e) => held.current && toStation(e)}
      onPointerUp={() => {
        held.current = false;
      }}
    >
      <header className={styles.lanesHead}>
        <strong>{step?.name}</strong>
        <LaneChoice open={open} />
        {failed && <span className={styles.laneFail}>not built</span>}
        <span className="figures" data-testid="station-readout">
          {at === null ? `0 to ${length(data.length, units, 5)}` : `at ${length(at, units, 5)}`}
          {at !== null && ` · bend ${here === null ? "straight" : length(here, units)}`}
          {at !== null && ` · twist ${trim(twist ?? 0)}°`}
        </span>
      </header>
      <PieceBar data={data} plot={plot} />
      {width > 0 &&
        clears.map(({ step: check, data: clear }) => (
          <ClearLane key={`${check.id}-${scheme}`} data={clear} units={units} width={width} height={laneHeight} />
        ))}
      {width > 0 &&
        added.map((lane) => (
          <LanePlace
            key={`${lane.title}-${scheme}`}
            lane={lane}
            marks={lane.marks}
            step={own?.step}
            x={lane.stations.map((s) => inUnits(s, units))}
            width={width}
            height={laneHeight}
            length={data.length}
          />
        ))}
      {width > 0 &&
        shown.map(({ lane, row }) => (
          <LanePlace
            key={`${lane.title}-${scheme}`}
            lane={lane}
            marks={marksOf(lane.name, row)}
            step={step}
            x={x}
            width={width}
            height={laneHeight}
            length={data.length}
          />
        ))}
      {count === 0 && (
        <p className={clsx(styles.plain, "soft")}>
          {data.section.lift === undefined
            ? "Straight, of one size, without twist."
            : "Straight, without twist; the section changes along it."}
        </p>
      )}
      {at !== null && (
        <span className={styles.laneCursor} style={{ left: GUTTER + (at / data.length) * plot }} aria-hidden="true" />
      )}
    </div>
  );
}

interface LanePlaceProps {
  lane: Omit<LaneData, "name">;
  marks: Mark[];
  step: Step | undefined;
  x: number[];
  width: number;
  height: number;
  length: number;
}

/** A lane with the marks of its law over it. */
function LanePlace({ lane, marks, step, x, width, height, length }: LanePlaceProps) {
  const [held, setHeld] = useState<[number, number] | null>(null);
  const range = held ?? lane.range ?? around(lane.y, marks.length > 0 ? ROOM_TO_DRAG : ROOM);
  return (
    <div className={styles.lanePlace}>
      <Lane
        title={lane.title}
        unit={lane.unit}
        width={width}
        height={height}
        x={x}
        y={lane.y}
        limit={lane.limit}
        range={range}
        empty={lane.empty}
      />
      {marks.length > 0 && step !== undefined && (
        <LawMarks
          step={step}
          marks={marks}
          title={lane.title}
          unit={lane.unit}
          width={width}
          height={height}
          gutter={GUTTER}
          right={RIGHT}
          length={length}
          range={range}
          onHold={setHeld}
        />
      )}
    </div>
  );
}

function LaneChoice({ open }: { open: LaneName[] }) {
  const chosen = useView((s) => s.lanes);
  return (
    <span className={styles.laneChoice} role="group" aria-label="Lanes">
      {LANE_NAMES.map(({ name, label }) => (
        <button
          key={name}
          type="button"
          aria-pressed={open.includes(name)}
          onPointerDown={(e) => e.stopPropagation()}
          onClick={() => useView.getState().set({ lanes: { ...chosen, [name]: !open.includes(name) } })}
        >
          {label}
        </button>
      ))}
    </span>
  );
}

const ROOM = 0.15;
const ROOM_TO_DRAG = 0.45;

/** A share of room around what a lane shows; more where marks are dragged. */
function around(y: (number | null)[], share: number): [number, number] {
  const known = y.filter((v): v is number => v !== null);
  if (known.length === 0) return [0, 1];
  const [low, high] = [Math.min(...known), Math.max(...known)];
  const room = Math.max(high - low > 0 ? (high - low) * share : Math.abs(high) * 0.5, 0.05);
  return [low - room, high + room];
}

/** Straights and bends along the path, as drawn. */
function PieceBar({ data, plot }: { data: SweepData; plot: number }) {
  return (
    <svg className={styles.pieceBar} width={GUTTER + plot + RIGHT} height="13" aria-hidden="true">
      <text x={GUTTER - 8} y="10.5" textAnchor="end">
        pieces
      </text>
      {data.pieces.map((p, i) => {
        const x = GUTTER + (p.from / data.length) * plot;
        const w = Math.max(1, ((p.to - p.from) / data.length) * plot);
        return (
          <g key={i}>
            <rect
              x={x}
              y={p.kind === "line" ? 5 : 2}
              width={w}
              height={p.kind === "line" ? 3 : 9}
              rx="2"
              fill="var(--madder)"
              opacity={p.kind === "line" ? 0.55 : 0.85}
            />
            {w > 54 && p.kind !== "line" && (
              <text className={styles.onPiece} x={x + w / 2} y="10" textAnchor="middle">
                {p.kind}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
