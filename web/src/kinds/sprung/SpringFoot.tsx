/** What a spring gives: its figures, and force over length with its loads, which are dragged there. */
import clsx from "clsx";
import { lazy, Suspense } from "react";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { stepOf, usePart } from "../../state/part";
import { length, trim } from "../../ui/format";
import table from "../../ui/table.module.css";
import type { SprungStep } from "./step";

const ForceGraph = lazy(async () => ({ default: (await import("./ForceGraph")).ForceGraph }));

/** Null where the spring is solid before. */
const range = ([least, most]: readonly (number | null)[]) =>
  [least, most].map((v) => (v === null || v === undefined ? "solid" : trim(v))).join(" to ");

export function SpringFoot({ report, built }: { report: StepReport | undefined; built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const told = report ?? built;
  const step = usePart((s) => (told === undefined ? undefined : stepOf(s.document, told.id)));
  const spring = told?.data.spring;
  if (spring === undefined || step === undefined) return null;
  const torsion = spring.duty === "torsion";
  const worst = spring.loads.reduce((most, l) => Math.max(most, l.share), 0);
  return (
    <Card title={torsion ? "Moment over angle" : "Force over length"}>
      <Suspense fallback={null}>
        <ForceGraph step={step as SprungStep} spring={spring} units={units} />
      </Suspense>
      <table className={clsx(table.numbers, "figures")} aria-label="Spring">
        <tbody>
          <Row name="Rate" value={`${trim(spring.rate)} ${torsion ? "N mm/°" : "N/mm"}`} />
          {spring.rates !== null && <Row name="By the tolerances" value={range(spring.rates)} />}
          {spring.loads.map(
            (l, i) =>
              l.between !== null && (
                <Row
                  key={i}
                  name={`Load ${i + 1}`}
                  value={`${trim(l.force)} ${torsion ? "N mm" : "N"}, ${range(l.between)}`}
                />
              ),
          )}
          <Row name="Spring index" value={trim(spring.index, 3)} />
          {spring.free !== null && !torsion && <Row name="Free length" value={length(spring.free, units)} />}
          {spring.solid !== null && <Row name="Solid length" value={length(spring.solid, units)} />}
          {spring.solid_force !== null && <Row name="Force when solid" value={`${trim(spring.solid_force)} N`} />}
          {spring.buckles !== null && <Row name="Buckles when pressed by" value={length(spring.buckles, units)} />}
          {spring.frequency !== null && <Row name="First frequency" value={`${trim(spring.frequency)} Hz`} />}
          <Row name="Permitted stress" value={`${trim(spring.permitted, 4)} MPa`} />
          {spring.loads.length > 0 && <Row name="Used by the loads" value={`${trim(100 * worst, 3)} %`} />}
          <Row name="Wire" value={`${length(spring.wire_length, units)}, ${trim(spring.mass, 4)} g`} />
        </tbody>
      </table>
    </Card>
  );
}
