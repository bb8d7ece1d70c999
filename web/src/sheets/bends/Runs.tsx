/** The runs and bends of a route, short enough for the slip. */
import type { StepReport } from "../../api/types";
import { usePart } from "../../state/part";
import { length, trim } from "../../ui/format";
import clsx from "clsx";
import table from "../../ui/table.module.css";

export function Runs({ report }: { report: StepReport }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const { route } = report.data;
  if (route === undefined) return null;
  const count = route.points.length;
  const bendAt = new Map(route.bends.map((b) => [b.point, b]));
  return (
    <table className={clsx(table.numbers, "figures")} aria-label="Runs and bends">
      <thead>
        <tr>
          <th scope="col">Run</th>
          <th scope="col">length</th>
          <th scope="col">straight</th>
          <th scope="col">then bend</th>
        </tr>
      </thead>
      <tbody>
        {route.runs.map((run, i) => {
          const bend = bendAt.get((i + 1) % count);
          return (
            <tr key={i}>
              <th scope="row">
                {i + 1}–{((i + 1) % count) + 1}
              </th>
              <td>{length(run.length, units)}</td>
              <td>{length(run.straight, units)}</td>
              <td>{bend === undefined ? "" : `${trim(bend.angle, 4)}°`}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
