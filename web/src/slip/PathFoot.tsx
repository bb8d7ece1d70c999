/** What is known of a path that a step gives: length, straights, runs and bends. */
import type { StepReport } from "../api/types";
import { usePart } from "../state/part";
import { length, trim } from "../ui/format";
import { Row } from "./Row";
import clsx from "clsx";
import table from "../ui/table.module.css";

export function PathFoot({ report }: { report: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const { path, route, hose, turns, coil } = report?.data ?? {};
  if (!path) return null;
  const bent = route !== undefined && (route.straight > 0 || route.bends.length > 0);
  return (
    <footer className={table.foot}>
      <table className={clsx(table.numbers, "figures")}>
        <tbody>
          <Row name="Length" value={length(path.length, units, 6)} />
          {bent && route && <Row name="Straight" value={length(route.straight, units)} />}
          {bent && route && <Row name="In bends" value={length(route.bent, units)} />}
          {hose && <Row name="Slack" value={length(hose.slack, units)} />}
          {hose && <Row name="Fittings turned by" value={`${trim(Number(hose.turn.toFixed(2)))}°`} />}
          {turns !== undefined && <Row name="Turns" value={trim(turns, 5)} />}
          {coil && coil.height > 0 && <Row name="Height" value={length(coil.height, units)} />}
          {coil && coil.height > 0 && (
            <Row name={coil.starts > 1 ? `Lead, ${coil.starts} starts` : "Lead"} value={length(coil.lead, units)} />
          )}
          {path.tightest !== undefined && (
            <Row name="Tightest bend" value={path.tightest === null ? "straight" : length(path.tightest, units)} />
          )}
        </tbody>
      </table>
    </footer>
  );
}
