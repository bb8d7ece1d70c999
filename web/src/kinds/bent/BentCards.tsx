/** The tube that is bent, how its material gives, what the machine needs, and how it is cut. */
import { Button, SegmentedControl } from "@mantine/core";
import clsx from "clsx";
import { Card } from "../../slip/Card";
import { useDraft, type Draft } from "../../slip/draft";
import { More } from "../../slip/More";
import { SourcePick } from "../../slip/SourcePick";
import { bodySources } from "../../state/bodies";
import { usePart } from "../../state/part";
import { Cell } from "../../ui/Cell";
import { ExpressionField, parseExpression } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import table from "../../ui/table.module.css";
import type { CardsProps } from "../room";
import { ArmCard } from "./ArmCard";
import { BenderCard } from "./BenderCard";
import styles from "./BentCards.module.css";
import type { BentStep } from "./step";

const Field = fieldFor<BentStep>();

const FIRST_TESTS = [
  { bent: 33, left: 30 },
  { bent: 124, left: 120 },
];

export function BentCards({ step, report }: CardsProps<BentStep>) {
  const draft = useDraft<BentStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const test = (i: number, name: "bent" | "left", label: string) => (
    <ExpressionField
      label={label}
      unit="°"
      value={step.tests[i]?.[name] ?? 0}
      onCommit={(v) =>
        draft.commit("Change a test bend", {
          tests: step.tests.map((t, k) => (k === i ? { ...t, [name]: v ?? 0 } : t)),
        })
      }
    />
  );
  const tried = step.tests.length === 2;
  return (
    <>
      <Card title="Tube" tone="path">
        <SourcePick
          label="Tube"
          kinds={bodySources()}
          value={step.tube}
          onPick={(tube) => draft.commit("Pick a tube", { tube })}
        />
        <SegmentedControl
          aria-label="Told from"
          data={[
            { value: "start", label: "From its start" },
            { value: "end", label: "From its end" },
          ]}
          value={step.flipped ? "end" : "start"}
          onChange={(v) => draft.commit("Tell it from the other end", { flipped: v === "end" })}
        />
      </Card>
      <Card title="Springback">
        {!tried && <Field of="fixed" />}
        {!tried && <Field of="share" unit="of 1" />}
        {tried && test(0, "bent", "First bent by")}
        {tried && test(0, "left", "First left")}
        {tried && test(1, "bent", "Second bent by")}
        {tried && test(1, "left", "Second left")}
        <Field of="growth" unit="of 1" />
        <Button
          size="compact-xs"
          variant="default"
          onClick={() =>
            draft.commit(tried ? "Type the springback" : "Springback by two test bends", {
              tests: tried ? [] : FIRST_TESTS,
            })
          }
        >
          {tried ? "Type it" : "From two test bends"}
        </Button>
      </Card>
      <Card title="Machine">
        <Field of="clamp" empty={step.machine === null ? "2 × Ø" : "its own"} />
        <Field of="grip" empty={step.machine === null ? "2 × Ø" : "its own"} />
        <Field of="longest_feed" empty="any" />
        <Tooling step={step} report={report} draft={draft} />
        <More label="Stretch and ovality" open={step.stretch !== 0}>
          <Field of="stretch" unit="of 1" />
          <Field of="oval" unit="of 1" />
        </More>
      </Card>
      <Card title="Cut from stock">
        <Field of="trim_start" />
        <Field of="trim_end" />
        <Field of="stock" empty="any" />
        <Field of="count" />
        <Field of="kerf" />
      </Card>
      <BenderCard step={step} report={report} draft={draft} />
      <ArmCard step={step} draft={draft} units={units} />
    </>
  );
}

const BEYOND = 1e6; // of the last row, which is for all that is more

/** What the tool has to have, by how thin the wall is for how tight the bend: the usual until a row is written over. */
function Tooling({ step, report, draft }: CardsProps<BentStep> & { draft: Draft<BentStep> }) {
  const usual = (report?.data.bent?.tooling_rows ?? []).map((r) => ({ up_to: r.up_to ?? BEYOND, words: r.words }));
  const rows = step.tooling.length > 0 ? step.tooling : usual;
  const keep = (tooling: BentStep["tooling"]) => draft.commit("Change the tooling", { tooling });
  const set = (i: number, patch: Partial<BentStep["tooling"][number]>) =>
    keep(rows.map((row, k) => (k === i ? { ...row, ...patch } : row)));
  return (
    <More label="What the tool has to have, by (Ø/wall) / (radius/Ø)" open={step.tooling.length > 0}>
      <table className={clsx(table.numbers, styles.tooling, "figures")} aria-label="Tooling">
        <thead>
          <tr>
            <th scope="col">Up to</th>
            <th scope="col">has to have</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row, i) => (
            <tr key={i}>
              <td>
                {row.up_to === BEYOND ? (
                  "more"
                ) : (
                  <Cell
                    label={`Up to, row ${i + 1}`}
                    value={String(row.up_to)}
                    onKeep={(text) => set(i, { up_to: parseExpression(text, false) ?? row.up_to })}
                  />
                )}
              </td>
              <td>
                <Cell
                  label={`Has to have, row ${i + 1}`}
                  value={row.words}
                  onKeep={(words) => (words ? set(i, { words }) : keep(rows.filter((_, k) => k !== i)))}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {step.tooling.length > 0 && (
        <Button size="compact-xs" variant="default" onClick={() => keep([])}>
          The usual
        </Button>
      )}
    </More>
  );
}
