/**
 * A sample that is bent by the program and measured by the arm: how far it is off, and the program corrected by that.
 */
import { Button } from "@mantine/core";
import clsx from "clsx";
import type { Units } from "../../api/types";
import { Card } from "../../slip/Card";
import type { Draft } from "../../slip/draft";
import { Row } from "../../slip/Row";
import { useAsk } from "../../slip/useAsk";
import { ExpressionField } from "../../ui/ExpressionField";
import { inUnits, length, trim } from "../../ui/format";
import table from "../../ui/table.module.css";
import type { BentStep } from "./step";

interface Off {
  feed: number;
  turn: number;
  angle: number;
}

interface Measured {
  rows: Off[];
  last: number;
  away: number[];
  worst: number;
  tolerance: number;
  corrections: Off[];
}

export function ArmCard({ step, draft, units }: { step: BentStep; draft: Draft<BentStep>; units: Units }) {
  const measure = useAsk<Measured>(step.id, "measured");
  const found = measure.data;
  const correct = (corrections: Off[]) => {
    measure.reset();
    const size = (mm: number) => Number(inUnits(mm, units).toPrecision(6));
    draft.commit(corrections.length === 0 ? "Drop the corrections" : "Correct the program", {
      corrections: corrections.map((c) => ({ ...c, feed: size(c.feed) })),
    });
  };
  return (
    <Card title="Measured">
      <ExpressionField
        label="Tolerance"
        unit={units}
        value={step.tolerance}
        onCommit={(v) => draft.commit("Change tolerance", { tolerance: v ?? 0 })}
      />
      {step.corrections.length > 0 && (
        <Button size="compact-xs" variant="default" onClick={() => correct([])}>
          Drop the corrections
        </Button>
      )}
      <Button
        size="compact-xs"
        variant="default"
        loading={measure.isPending}
        disabled={measure.waits}
        onClick={measure.ask}
      >
        Bend a sample and measure it
      </Button>
      {found && (
        <>
          <table className={clsx(table.numbers, "figures")} aria-label="Off by">
            <thead>
              <tr>
                <th scope="col">Bend</th>
                <th scope="col">feed</th>
                <th scope="col">turn</th>
                <th scope="col">angle</th>
              </tr>
            </thead>
            <tbody>
              {found.rows.map((row, i) => (
                <tr key={i}>
                  <th scope="row">{i + 1}</th>
                  <td>{length(row.feed, units)}</td>
                  <td>{trim(row.turn, 3)}°</td>
                  <td>{trim(row.angle, 3)}°</td>
                </tr>
              ))}
            </tbody>
          </table>
          <table className={clsx(table.numbers, "figures")} aria-label="After the best fit">
            <tbody>
              <Row name="Farthest corner off" value={length(found.worst, units)} />
              <Row name="Tolerance" value={found.worst <= found.tolerance ? "kept" : "not kept"} />
            </tbody>
          </table>
          <Button size="compact-xs" variant="default" onClick={() => correct(found.corrections)}>
            Correct the program
          </Button>
        </>
      )}
    </Card>
  );
}
