/** The clearance of a tube to bodies, over station, with what was asked for. */
import { useComputedColorScheme } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import type { ClearData, Units } from "../api/types";
import { clearWords, type Clear } from "../state/checks";
import { inUnits, length } from "../ui/format";
import { Lane } from "./Lane";
import styles from "./StationStrip.module.css";

const HEAD = 36;

export function ClearLane({
  data,
  units,
  width,
  height,
}: {
  data: ClearData;
  units: Units;
  width: number;
  height: number;
}) {
  const x = [0, ...data.stations.map((s) => inUnits(s, units)), inUnits(data.length, units)];
  const y = [null, ...data.distance.map((d) => inUnits(d, units)), null];
  const top = Math.max(0.5, 1.15 * Math.min(Math.max(...data.distance), Math.max(3 * data.asked, 4 * data.least, 20)));
  const shown = y.map((v) => (v === null || v > inUnits(top, units) ? null : v));
  return (
    <Lane
      title="clear of bodies"
      unit={units}
      width={width}
      height={height}
      x={x}
      y={shown}
      limit={x.map(() => inUnits(data.asked, units))}
      range={[inUnits(Math.min(-0.05 * top, 1.1 * data.least), units), inUnits(top, units)]}
      empty="nothing near"
    />
  );
}

/** The clearance of a bare path, which has no other lanes. */
export function ClearLanes({ clear, units }: { clear: Clear; units: Units }) {
  const { ref, width, height } = useElementSize();
  const scheme = useComputedColorScheme("light");
  const { data, step } = clear;
  return (
    <div className={styles.lanes} ref={ref} aria-label="Clearance along the path">
      <header className={styles.lanesHead}>
        <strong>{step.name}</strong>
        <span className="figures">{`${clearWords(data, units)} at ${length(data.station, units, 5)}`}</span>
      </header>
      {width > 0 && (
        <ClearLane key={scheme} data={data} units={units} width={width} height={Math.max(40, height - HEAD)} />
      )}
    </div>
  );
}
