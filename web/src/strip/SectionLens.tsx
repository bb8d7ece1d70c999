/** The true section at the station, with its sizes. */
import type { SweepData, Units, Vec2 } from "../api/types";
import { valueAt } from "../geometry/space";
import { areaOf, lengthOf, loopsAt, mapAt, mapped, type Map2 } from "../state/section";
import { useView } from "../state/view";
import { area, length, trim } from "../ui/format";
import styles from "./SectionLens.module.css";

const HALF = 50;

const stretched = ([a, b, c, d]: Map2) => Math.abs(a - 1) + Math.abs(b) + Math.abs(c) + Math.abs(d - 1) > 1e-6;

/** Width and height of an outline as it stands. */
function size(outline: Vec2[][], units: Units): string {
  const spans = [0, 1]
    .map((k) => outline.flat().map((p) => p[k]!))
    .map((v) => length(Math.max(...v) - Math.min(...v), units));
  return `${spans[0]!.replace(/ \D+$/, "")} × ${spans[1]!}`;
}

export function SectionLens({ data, units }: { data: SweepData; units: Units }) {
  const station = useView((s) => s.station);
  const { loops, title, wall, area: mm2 } = data.section;
  const map = mapAt(data, station ?? 0);
  const bent = data.section.lift !== undefined;
  const here = loopsAt(data, station ?? 0).map((loop) => loop.map((p) => mapped(map, p)));
  const widest = Math.max(...data.lanes.map.flat().map(Math.abs), 1e-9);
  const farthest = (outline: Vec2[][]) => Math.max(...outline.flat().map(([x, y]) => Math.hypot(x, y)), 1e-9);
  const reach = Math.max(farthest(here), farthest(loops) * widest);
  const scale = (HALF * 0.84) / reach;
  const turn = station === null ? 0 : (valueAt(data.lanes, data.lanes.twist, station) ?? 0);
  const bentArea = () => valueAt(data.lanes, data.lanes.area ?? [], station ?? 0) ?? areaOf(here);
  const amount =
    mm2 === 0 // of a surface
      ? `${length(lengthOf(here, data.section.open), units)} ${data.section.open ? "long" : "around"}`
      : area(bent ? bentArea() : mm2 * (map[0] * map[3] - map[1] * map[2]), units);
  // then it is that of the drawn section, and the one that stands here takes its place
  const byArea = title.endsWith("²");
  const end = data.section.open ? "" : "Z";
  const corner = ([x, y]: Vec2) => `${(x * scale).toFixed(2)},${(-y * scale).toFixed(2)}`;
  const path = here.map((loop) => `M${loop.map(corner).join("L")}${end}`).join("");
  return (
    <figure className={styles.lens} aria-label="Section lens">
      <svg viewBox={`${-HALF} ${-HALF} ${2 * HALF} ${2 * HALF}`}>
        <defs>
          <pattern id="lens-hatch" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0v4" stroke="var(--sea)" strokeWidth="0.9" opacity="0.55" />
          </pattern>
        </defs>
        <path d={`M${-HALF} 0H${HALF}M0 ${-HALF}V${HALF}`} stroke="var(--hair)" strokeWidth="0.8" />
        <g transform={`rotate(${-turn})`}>
          <path
            d={path}
            fill={data.section.open ? "none" : "url(#lens-hatch)"}
            fillRule="evenodd"
            stroke="var(--sea)"
            strokeWidth="1.4"
          />
        </g>
        <circle r="1.8" fill="var(--madder)" />
      </svg>
      <figcaption className="figures">
        <span data-testid="lens-size">{byArea ? amount : title}</span>
        {stretched(map) && !bent && (
          <span data-testid="lens-stretch">
            {trim(map[0], 3)} × {trim(map[3], 3)} of drawn
          </span>
        )}
        {bent && <span data-testid="lens-stretch">{size(here, units)} across</span>}
        {!byArea && <span data-testid="lens-amount">{amount}</span>}
        {wall !== null && !title.startsWith("Ø") && <span>wall {length(wall, units)}</span>}
        <span className="soft">
          {station === null ? "at the start" : `at ${length(Math.min(station, data.length), units)}`}
        </span>
      </figcaption>
    </figure>
  );
}
