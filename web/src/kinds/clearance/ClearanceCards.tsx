/** What a path is to stay clear of, and by how much. */
import { MultiSelect } from "@mantine/core";
import type { StepReport } from "../../api/types";
import type { ClearanceStep } from "./step";
import { stepOf, stepsBefore, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { hasSolids, isAlong } from "../../state/bodies";
import { length } from "../../ui/format";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import { More } from "../../slip/More";
import { Row } from "../../slip/Row";
import { SourcePick } from "../../slip/SourcePick";
import clsx from "clsx";
import table from "../../ui/table.module.css";

const Field = fieldFor<ClearanceStep>();

export function ClearanceCards({ step }: { step: ClearanceStep }) {
  const draft = useDraft<ClearanceStep>(step.id);
  const part = usePart((s) => s.document)!;
  const swept = isAlong(stepOf(part, step.path.step));
  const bodies = stepsBefore(part, step.id).filter((s) => hasSolids(s) && s.id !== step.path.step);
  const gone = step.obstacles
    .filter((o) => !bodies.some((b) => b.id === o))
    .map((o) => ({ value: o, label: `${o} (gone)` }));
  return (
    <>
      <Card title="Sweep or path" tone="path">
        <SourcePick
          label="What is to stay clear"
          kinds={pathSources()}
          value={step.path.step}
          onPick={(id) =>
            draft.commit("Pick path", {
              path: { step: id, curves: null },
              diameter: isAlong(stepOf(part, id)) ? null : (step.diameter ?? 10),
            })
          }
        />
        {!swept && (
          <ExpressionField
            label="Tube Ø"
            unit={part.units}
            value={step.diameter}
            onCommit={(diameter) => draft.commit("Change diameter", { diameter })}
          />
        )}
      </Card>
      <Card title="Stay clear of">
        <MultiSelect
          aria-label="Bodies to stay clear of"
          data={[...gone, ...bodies.map((b) => ({ value: b.id, label: b.name }))]}
          value={step.obstacles}
          clearable
          placeholder={step.obstacles.length === 0 ? "All bodies before it" : ""}
          onChange={(obstacles) => draft.commit("Pick bodies", { obstacles })}
        />
        <Field of="least" still />
        <More label="Ends that may touch" open={step.skip_start !== 0 || step.skip_end !== 0}>
          <Field of="skip_start" still />
          <Field of="skip_end" still />
        </More>
      </Card>
    </>
  );
}

export function ClearanceFoot({ built }: { built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const clear = built?.data.clear;
  if (clear === undefined) return null;
  return (
    <footer className={table.foot}>
      <table className={clsx(table.numbers, "figures")} aria-label="Clearances">
        <tbody>
          <Row name="Least clearance" value={length(clear.least, units, 4)} />
          <Row name="Closest to" value={clear.bodies[clear.nearest] ?? ""} />
          <Row name="At station" value={length(clear.station, units, 5)} />
          {clear.bodies.length > 1 &&
            clear.bodies.map((name, k) => (
              <Row key={k} name={`To ${name}`} value={leastTo(clear, k, (d) => length(d, units, 4))} />
            ))}
        </tbody>
      </table>
    </footer>
  );
}

/** The lane tells of the nearest body at each station; one that is never the nearest is farther everywhere. */
function leastTo(clear: NonNullable<StepReport["data"]["clear"]>, k: number, say: (d: number) => string): string {
  if (k === clear.nearest) return say(clear.least);
  const own = clear.distance.filter((_, i) => clear.other[i] === k);
  return own.length === 0 ? "never the nearest" : say(Math.min(...own));
}
