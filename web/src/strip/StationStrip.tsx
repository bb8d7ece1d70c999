/** Everything known along the path, as lanes over station; the cursor is tied to the stage and the lens. */
import { useComputedColorScheme } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { SweepData, Units } from "../api/types";
import { valueAt } from "../stage/space";
import { sweptFor } from "../state/roles";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import { inUnits, length, trim } from "../ui/format";
import { Lane } from "./Lane";
import { SectionLens } from "./SectionLens";
import "./StationStrip.css";

export const GUTTER = 62;
const RIGHT = 12;
const BEND_SHOWN = 3;

export function StationStrip() {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const selected = useView((s) => s.selected);
  const preview = useView((s) => s.preview);
  const swept = part === null ? null : sweptFor(part, selected);
  const report = preview !== null && preview.step === swept ? preview.report : result?.steps[swept ?? ""];
  const data = report?.data as SweepData | undefined;
  const name = part?.steps.find((s) => s.id === swept)?.name ?? "";
  if (part === null || !data?.lanes) {
    return (
      <section className="strip empty" aria-label="Station strip">
        <p className="soft">The station strip shows bend radius, twist and the section along a sweep. It fills when the part has one.</p>
      </section>
    );
  }
  return (
    <section className="strip" aria-label="Station strip">
      <Lanes data={data} units={part.units} name={name} failed={report?.state === "failed"} />
      <SectionLens data={data} units={part.units} />
    </section>
  );
}

function Lanes({ data, units, name, failed }: { data: SweepData; units: Units; name: string; failed: boolean }) {
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
  const limit = Math.max(...data.lanes.limit.map((v) => v ?? 0));
  const finite = data.lanes.radius.filter((r): r is number => r !== null);
  const tightest = finite.length > 0 ? Math.min(...finite) : null;
  const top = tightest === null ? 1 : Math.max(limit * 1.6, tightest * BEND_SHOWN);
  const shown = (rows: (number | null)[]) => rows.map((v) => (v === null || v > top ? null : inUnits(v, units)));
  const laneHeight = Math.max(34, (height - 46) / 2);
  const x = data.lanes.station.map((s) => inUnits(s, units));
  return (
    <div className="lanes" ref={ref} role="slider" tabIndex={0} aria-label="Station" aria-valuemin={0} aria-valuemax={data.length}
      aria-valuenow={at ?? 0} aria-valuetext={at === null ? "none" : length(at, units)} onKeyDown={onKey}
      onPointerDown={(e) => { held.current = true; e.currentTarget.setPointerCapture(e.pointerId); toStation(e); }}
      onPointerMove={(e) => held.current && toStation(e)} onPointerUp={() => { held.current = false; }}>
      <header className="lanes-head">
        <strong>{name}</strong>
        {failed && <span className="lane-fail">not built</span>}
        <span className="figures" data-testid="station-readout">
          {at === null ? `0 to ${length(data.length, units, 5)}` : `at ${length(at, units, 5)}`}
          {at !== null && ` · bend ${here === null ? "straight" : length(here, units)}`}
          {at !== null && ` · twist ${trim(twist ?? 0)}°`}
        </span>
      </header>
      <PieceBar data={data} plot={plot} />
      {width > 0 && (
        <>
          <Lane key={`bend-${scheme}`} title="bend radius" unit={units} width={width} height={laneHeight} x={x} y={shown(data.lanes.radius)} limit={shown(data.lanes.limit)}
            range={[0, inUnits(top, units)]} empty="straight" />
          <Lane key={`twist-${scheme}`} title="twist" unit="°" width={width} height={laneHeight} x={x} y={data.lanes.twist} />
        </>
      )}
      {at !== null && <span className="lane-cursor" style={{ left: GUTTER + (at / data.length) * plot }} aria-hidden="true" />}
    </div>
  );
}

/** Straights and bends along the path, as drawn. */
function PieceBar({ data, plot }: { data: SweepData; plot: number }) {
  return (
    <svg className="piece-bar" width={GUTTER + plot + RIGHT} height="13" aria-hidden="true">
      <text x={GUTTER - 8} y="10.5" textAnchor="end">pieces</text>
      {data.pieces.map((p, i) => {
        const x = GUTTER + (p.from / data.length) * plot;
        const w = Math.max(1, ((p.to - p.from) / data.length) * plot);
        return (
          <g key={i}>
            <rect x={x} y={p.kind === "line" ? 5 : 2} width={w} height={p.kind === "line" ? 3 : 9} rx="2" fill="var(--madder)" opacity={p.kind === "line" ? 0.55 : 0.85} />
            {w > 54 && p.kind !== "line" && <text className="on-piece" x={x + w / 2} y="10" textAnchor="middle">{p.kind}</text>}
          </g>
        );
      })}
    </svg>
  );
}
