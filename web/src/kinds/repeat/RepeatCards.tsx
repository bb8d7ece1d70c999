/** What is repeated, along which path, how often, and how the copies stand. */
import { ActionIcon, Button, SegmentedControl, Select, Switch } from "@mantine/core";
import type { StepReport } from "../../api/types";
import type { RepeatStep } from "./step";
import { reportOf, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { bodySources } from "../../state/bodies";
import { freshRun } from "./new";
import { length, mass, trim, volume } from "../../ui/format";
import { Card } from "../../slip/Card";
import { useDraft, useFirstPreview, type Draft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import { More } from "../../slip/More";
import { PlanePick } from "../../slip/PlanePick";
import { ResultPick } from "../../slip/ResultPick";
import { Row } from "../../slip/Row";
import { SourcePick } from "../../slip/SourcePick";
import { UpPick } from "../../slip/UpPick";
import clsx from "clsx";
import styles from "./Repeat.module.css";
import table from "../../ui/table.module.css";

const Field = fieldFor<RepeatStep>();

interface Shared {
  step: RepeatStep;
  draft: Draft<RepeatStep>;
}

const GIVEN = [
  { value: "count", label: "By count" },
  { value: "spacing", label: "By spacing" },
  { value: "both", label: "By both" },
];
const MODES = [
  { value: "turning", label: "Turning with the path" },
  { value: "held", label: "Held parallel" },
  { value: "upright", label: "Upright" },
];

export function RepeatCards({ step }: { step: RepeatStep }) {
  const draft = useDraft<RepeatStep>(step.id);
  useFirstPreview(step.id, draft);
  const shared = { step, draft };
  return (
    <>
      <Card title="What is repeated" tone="section">
        <SourcePick
          label="Body"
          kinds={bodySources()}
          value={step.source}
          onPick={(source) => draft.commit("Pick body", { source })}
        />
        <Switch
          size="xs"
          label="Keep it beside its copies"
          checked={step.keep}
          onChange={(e) =>
            draft.commit(e.currentTarget.checked ? "Keep the body" : "Let the body go", {
              keep: e.currentTarget.checked,
            })
          }
        />
      </Card>
      <Card title="Path" tone="path">
        <SourcePick
          label="Path"
          kinds={pathSources()}
          value={step.path.step}
          onPick={(id) => draft.commit("Pick path", { path: { step: id, curves: null } })}
        />
      </Card>
      <CountCard {...shared} />
      <StandCard {...shared} />
      <RunsCard {...shared} />
      <Card title="Copies">
        <SegmentedControl
          aria-label="How copies are made"
          data={[
            { value: "rigid", label: "All the same" },
            { value: "refit", label: "Re-fitted" },
          ]}
          value={step.refit ? "refit" : "rigid"}
          onChange={(v) => draft.commit(v === "refit" ? "Re-fit the copies" : "All the same", { refit: v === "refit" })}
        />
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}

function CountCard({ step, draft }: Shared) {
  const told = usePart((s) => reportOf(s.result, step.id)?.data.copies);
  const given = step.count !== null && step.spacing !== null ? "both" : step.spacing !== null ? "spacing" : "count";
  const now = { count: told?.runs.filter((r) => r === 0).length ?? 8, spacing: Number(trim(told?.spacing ?? 20, 4)) };
  const choose = (next: string) => {
    const count = next === "spacing" ? null : (step.count ?? now.count);
    const spacing = next === "count" ? null : (step.spacing ?? now.spacing);
    draft.commit("Change how many", { count, spacing, fitted: false });
  };
  return (
    <Card title="How many">
      <SegmentedControl aria-label="How many is given by" data={GIVEN} value={given} onChange={choose} />
      {given !== "spacing" && <Field of="count" needed />}
      {given !== "count" && <Field of="spacing" needed />}
      {given === "spacing" && (
        <Switch
          size="xs"
          label="Fitted to end on the end"
          checked={step.fitted}
          onChange={(e) => draft.commit("Change how it ends", { fitted: e.currentTarget.checked })}
        />
      )}
      <More label="Free at the ends" open={step.first !== 0 || step.last !== 0}>
        <Field of="first" />
        <Field of="last" />
      </More>
    </Card>
  );
}

function StandCard({ step, draft }: Shared) {
  return (
    <Card title="How they stand">
      <Select
        aria-label="Orientation"
        data={MODES}
        value={step.orientation}
        onChange={(v) =>
          v !== null &&
          draft.commit("Change orientation", {
            orientation: v as RepeatStep["orientation"],
            ...(v === "upright" && step.up === null ? { up: { by: "axis", axis: "Z" } as const } : {}),
          })
        }
      />
      {step.orientation === "upright" && (
        <UpPick value={step.up} onPick={(up) => draft.commit("Change what is up", { up })} />
      )}
      <PlanePick
        label="Put on the path"
        none="As it stands to it"
        value={step.seat}
        onPick={(seat) => draft.commit("Put a plane on the path", { seat })}
        onNone={() => draft.commit("As it stands", { seat: null })}
      />
      <Field of="turn" />
      <Field of="alternate" />
    </Card>
  );
}

function RunsCard({ step, draft }: Shared) {
  const put = (i: number, patch: Partial<RepeatStep["runs"][number]>) => ({
    runs: step.runs.map((r, k) => (k === i ? { ...r, ...patch } : r)),
  });
  return (
    <Card title="Further runs between">
      {step.runs.map((run, i) => (
        <div key={run.id} className={styles.runRow}>
          <ExpressionField
            label={`Phase of run ${i + 2}`}
            bare
            unit="×"
            value={run.phase}
            onPreview={(v) => draft.preview(put(i, { phase: v ?? 0 }))}
            onCommit={(v) => draft.commit("Change phase", put(i, { phase: v ?? 0 }))}
          />
          <ExpressionField
            label={`Turn of run ${i + 2}`}
            bare
            unit="°"
            value={run.turn}
            onPreview={(v) => draft.preview(put(i, { turn: v ?? 0 }))}
            onCommit={(v) => draft.commit("Change turn", put(i, { turn: v ?? 0 }))}
          />
          <ActionIcon
            variant="subtle"
            color="gray"
            size="sm"
            aria-label={`Take run ${i + 2} away`}
            onClick={() => draft.commit("Take a run away", { runs: step.runs.filter((_, k) => k !== i) })}
          >
            ×
          </ActionIcon>
        </div>
      ))}
      <Button
        size="compact-xs"
        variant="default"
        onClick={() =>
          draft.commit("Add a run", { runs: [...step.runs, { id: freshRun(step.runs), phase: 0.5, turn: 90 }] })
        }
      >
        Add a run
      </Button>
    </Card>
  );
}

/** The figures of the copies that are shown, with what is known of those that were built. */
export function CopiesFoot({ report, built }: { report: StepReport | undefined; built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const density = usePart((s) => s.result?.density ?? null);
  const shown = report?.data.copies;
  const made = built?.data.copies;
  if (shown === undefined) return null;
  return (
    <footer className={table.foot}>
      <table className={clsx(table.numbers, "figures")} aria-label="Figures of the copies">
        <tbody>
          <Row name="Copies" value={String(shown.stations.length)} />
          <Row name="Spacing" value={length(shown.spacing, units, 6)} />
          <Row name="Path" value={length(shown.length, units, 6)} />
          {made?.least !== undefined && (
            <Row
              name="Least clearance"
              value={made.least === null ? "none near" : made.least === 0 ? "they touch" : length(made.least, units, 4)}
            />
          )}
          {made?.volume !== undefined && <Row name="Volume" value={volume(made.volume, units)} />}
          {made?.volume !== undefined && density !== null && (
            <Row name="Mass" value={mass(made.volume, density, units)} />
          )}
        </tbody>
      </table>
    </footer>
  );
}
