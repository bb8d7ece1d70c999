/** What a spring maker asks: what it does, its wire, its coil, its ends, the loads on it, and what it stands in. */
import { Checkbox, SegmentedControl, Select } from "@mantine/core";
import { HandPick } from "../../slip/HandPick";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { More } from "../../slip/More";
import { PlanePick } from "../../slip/PlanePick";
import { ResultPick } from "../../slip/ResultPick";
import { SourcePick } from "../../slip/SourcePick";
import { pathFor } from "../../commands/add";
import { stepsBefore, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { fieldFor } from "../../slip/StepField";
import fields from "../../ui/fields.module.css";
import { Loads } from "./Loads";
import { PitchFields } from "./PitchFields";
import { dutyChanged } from "./loadKinds";
import type { Duty, SprungStep } from "./step";
import { ToleranceCard } from "./ToleranceCard";
import { WireCard } from "./WireCard";
import { WishCard } from "./WishCard";

const Field = fieldFor<SprungStep>();

const DUTIES = [
  { value: "compression", label: "Pressed" },
  { value: "extension", label: "Pulled" },
  { value: "torsion", label: "Turned" },
];
const MEASURED = [
  { value: "outer", label: "Outside" },
  { value: "mean", label: "Middle" },
  { value: "inner", label: "Inside" },
];
const ENDS = [
  { value: "open", label: "Open" },
  { value: "closed", label: "Closed" },
  { value: "ground", label: "Closed and ground" },
];
const LOOPS = [
  { value: "none", label: "None" },
  { value: "half", label: "Half a loop" },
  { value: "full", label: "Full loop" },
  { value: "side", label: "Loop at the side" },
];

export function SprungCards({ step }: { step: SprungStep }) {
  const draft = useDraft<SprungStep>(step.id);
  const part = usePart((s) => s.document);
  const units = part?.units ?? "mm";
  const own = step.along === null || step.along === undefined;
  const followed = (v: string): Partial<SprungStep> => {
    const path = part === null ? null : pathFor({ ...part, steps: stepsBefore(part, step.id) }, null);
    return {
      along: v === "path" && path !== null ? { step: path, curves: null } : null,
      duty: "compression",
      shown_under: null,
    };
  };
  const choice = (name: "loop_start" | "loop_end" | "ends", label: string, data: typeof ENDS) => (
    <Select
      label={label}
      className={fields.expression}
      data={data}
      value={step[name] ?? null}
      onChange={(v) => v !== null && draft.commit(`Change ${label.toLowerCase()}`, { [name]: v })}
    />
  );
  return (
    <>
      <Card title="What it does">
        {own && (
          <SegmentedControl
            aria-label="What it does"
            data={DUTIES}
            value={step.duty}
            onChange={(v) => draft.commit("Change what the spring does", dutyChanged(step, v as Duty))}
          />
        )}
        <PlanePick
          label="Stands square on"
          value={step.plane}
          onPick={(plane) => draft.commit("Pick plane", { plane })}
        />
      </Card>
      <WireCard step={step} draft={draft} units={units} />
      <Card title="Coil" tone="path">
        <SegmentedControl
          aria-label="What the wire follows"
          data={[
            { value: "coil", label: "Its own coil" },
            { value: "path", label: "A path" },
          ]}
          value={step.along === null ? "coil" : "path"}
          onChange={(v) => draft.commit("Change what the wire follows", followed(v))}
        />
        {step.along !== null && step.along !== undefined && (
          <SourcePick
            label="Path"
            kinds={pathSources()}
            value={step.along.step}
            onPick={(id) => draft.commit("Pick path", { along: { step: id, curves: null } })}
          />
        )}
        {!own && (
          <SegmentedControl
            aria-label="How it is pressed"
            data={[
              { value: "ends", label: "From end to end" },
              { value: "axis", label: "Along the axis" },
            ]}
            value={step.pressed}
            onChange={(v) => draft.commit("Change how it is pressed", { pressed: v })}
          />
        )}
        {own && (
          <>
            <Field of="diameter" />
            <SegmentedControl
              aria-label="Diameter measured"
              data={MEASURED}
              value={step.measured}
              onChange={(v) =>
                draft.commit("Measure the diameter otherwise", { measured: v as SprungStep["measured"] })
              }
            />
            {step.duty === "compression" && <Field of="middle_diameter" empty="even" />}
            {step.duty === "compression" && <Field of="end_diameter" empty="the same" />}
            <Field of="turns" label={step.duty === "compression" ? "Active turns" : "Turns"} />
            {step.duty === "compression" && <Field of="free" />}
            {step.duty === "compression" && <PitchFields step={step} draft={draft} />}
            <HandPick value={step.hand} onPick={(hand) => draft.commit("Change hand", { hand })} />
            <More label="Start angle" open={step.start_angle !== 0}>
              <Field of="start_angle" />
            </More>
          </>
        )}
      </Card>
      {own && (
        <>
          <Card title="Ends">
            {step.duty === "compression" && choice("ends", "Both ends", ENDS)}
            {step.duty === "compression" && step.ends !== "open" && <Field of="end_turns" />}
            {step.duty === "extension" && choice("loop_start", "At the start", LOOPS)}
            {step.duty === "extension" && choice("loop_end", "At the end", LOOPS)}
            {step.duty === "extension" && <Field of="initial" unit="N" />}
            {step.duty === "torsion" && <Field of="leg_start" />}
            {step.duty === "torsion" && <Field of="leg_end" />}
          </Card>
        </>
      )}
      <Card title="Loads">
        <Loads step={step} draft={draft} units={units} />
        <Checkbox
          label="They change often"
          checked={step.moving}
          onChange={(e) => draft.commit("Change how often the loads change", { moving: e.currentTarget.checked })}
        />
      </Card>
      {own && <ToleranceCard step={step} draft={draft} units={units} />}
      {own && <WishCard step={step} draft={draft} units={units} />}
      {own && step.duty !== "extension" && (
        <Card title="Room">
          {step.duty === "compression" && <Field of="bore" empty="none" />}
          <Field of="rod" empty="none" />
          {step.duty === "compression" && (
            <More label="How its ends are held" open={step.seat !== 0.5}>
              <Field of="seat" />
            </More>
          )}
        </Card>
      )}
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
    </>
  );
}
