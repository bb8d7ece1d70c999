/** The program in short: hover a row, and the bend is shown in the stage. */
import clsx from "clsx";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { length, trim } from "../../ui/format";
import table from "../../ui/table.module.css";

export function BentFoot({ report, built }: { report: StepReport | undefined; built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const bent = (report ?? built)?.data.bent;
  if (bent === undefined) return null;
  const show = (station: number | null) => useView.getState().set({ station });
  return (
    <Card title="Program">
      <table className={clsx(table.numbers, "figures")} aria-label="Program" onMouseLeave={() => show(null)}>
        <thead>
          <tr>
            <th scope="col">Bend</th>
            <th scope="col">feed</th>
            <th scope="col">turn</th>
            <th scope="col">bend by</th>
          </tr>
        </thead>
        <tbody>
          {bent.rows.map((row, i) => (
            <tr key={i} onMouseEnter={() => show((row.start + row.end) / 2)}>
              <th scope="row">{i + 1}</th>
              <td>{length(row.feed, units)}</td>
              <td>{trim(row.turn, 4)}°</td>
              <td>{trim(row.made, 4)}°</td>
            </tr>
          ))}
        </tbody>
      </table>
      <table className={clsx(table.numbers, "figures")} aria-label="Tube">
        <tbody>
          <Row name="Straight after" value={length(bent.last, units)} />
          <Row name="Cut length" value={length(bent.cut, units, 6)} />
          {bent.tooling !== "" && <Row name="Tool has to have" value={bent.tooling} />}
          {bent.bars.length > 0 && <Row name="Bars of stock" value={String(bent.bars.length)} />}
          {bent.bars.length > 0 && <Row name="Left over" value={length(bent.waste, units)} />}
        </tbody>
      </table>
    </Card>
  );
}
