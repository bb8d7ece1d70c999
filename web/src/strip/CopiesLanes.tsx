/** Copies along a path: where they stand, and how close each comes to the others. */
import { useComputedColorScheme } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import type { CopiesData, Units } from "../api/types";
import { inUnits, length } from "../ui/format";
import { Lane } from "./Lane";
import styles from "./CopiesLanes.module.css";
import strip from "./StationStrip.module.css";

const GUTTER = 62;
const RIGHT = 12;
const RUN_TONES = ["var(--madder)", "var(--sea)", "var(--brass)"];

export function CopiesLanes({ name, copies, units }: { name: string; copies: CopiesData; units: Units }) {
  const { ref, width, height } = useElementSize();
  const scheme = useComputedColorScheme("light");
  const plot = Math.max(40, width - GUTTER - RIGHT);
  const clear = copies.clearance ?? copies.stations.map(() => null);
  const x = [0, ...copies.stations.map((s) => inUnits(s, units)), inUnits(copies.length, units)];
  const y = [null, ...clear.map((v) => (v === null ? null : inUnits(v, units))), null];
  const most = Math.max(0.5, ...y.map((v) => v ?? 0));
  return (
    <div className={strip.lanes} ref={ref} aria-label="Copies along the path">
      <header className={strip.lanesHead}>
        <strong>{name}</strong>
        <span className="figures">{`${copies.stations.length} copies, ${length(copies.spacing, units)} apart`}</span>
      </header>
      <svg
        className={styles.copyTicks}
        width={GUTTER + plot + RIGHT}
        height="24"
        role="img"
        aria-label={`${copies.stations.length} copies along ${length(copies.length, units)}`}
      >
        <text x={GUTTER - 8} y="15" textAnchor="end">
          copies
        </text>
        <line x1={GUTTER} x2={GUTTER + plot} y1="12" y2="12" stroke="var(--hair)" />
        {copies.stations.map((s, i) => (
          <rect
            key={i}
            x={GUTTER + (s / copies.length) * plot - 1}
            y={4 + 5 * (copies.runs[i]! % 2)}
            width="2"
            height="11"
            fill={RUN_TONES[copies.runs[i]! % RUN_TONES.length]}
          />
        ))}
      </svg>
      {width > 0 && (
        <Lane
          key={scheme}
          title="clear of others"
          unit={units}
          width={width}
          height={Math.max(40, height - 62)}
          x={x}
          y={y}
          limit={x.map(() => 0)}
          range={[-0.05 * most, 1.15 * most]}
          empty={copies.clearance === undefined ? "worked out for copies that are all the same" : "nothing near"}
        />
      )}
    </div>
  );
}
