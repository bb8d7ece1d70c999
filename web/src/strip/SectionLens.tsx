/** The true section at the station, with its sizes. */
import type { SweepData, Units, Vec2 } from "../api/types";
import { valueAt } from "../stage/space";
import { useView } from "../state/view";
import { area, length } from "../ui/format";

const HALF = 50;

export function SectionLens({ data, units }: { data: SweepData; units: Units }) {
  const station = useView((s) => s.station);
  const { loops, title, wall, area: mm2 } = data.section;
  const reach = Math.max(...loops.flat().map(([x, y]) => Math.hypot(x, y)), 1e-9);
  const scale = HALF * 0.84 / reach;
  const turn = station === null ? 0 : (valueAt(data.lanes, data.lanes.twist, station) ?? 0);
  const path = loops.map((loop) => `M${loop.map(([x, y]: Vec2) => `${(x * scale).toFixed(2)},${(-y * scale).toFixed(2)}`).join("L")}Z`).join("");
  return (
    <figure className="lens" aria-label="Section lens">
      <svg viewBox={`${-HALF} ${-HALF} ${2 * HALF} ${2 * HALF}`}>
        <defs>
          <pattern id="lens-hatch" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0v4" stroke="var(--sea)" strokeWidth="0.9" opacity="0.55" />
          </pattern>
        </defs>
        <path d={`M${-HALF} 0H${HALF}M0 ${-HALF}V${HALF}`} stroke="var(--hair)" strokeWidth="0.8" />
        <g transform={`rotate(${-turn})`}>
          <path d={path} fill="url(#lens-hatch)" fillRule="evenodd" stroke="var(--sea)" strokeWidth="1.4" />
        </g>
        <circle r="1.8" fill="var(--madder)" />
      </svg>
      <figcaption className="figures">
        <span data-testid="lens-size">{title}</span>
        <span>{area(mm2, units)}</span>
        {wall !== null && !title.startsWith("Ø") && <span>wall {length(wall, units)}</span>}
        <span className="soft">{station === null ? "at the start" : `at ${length(Math.min(station, data.length), units)}`}</span>
      </figcaption>
    </figure>
  );
}
