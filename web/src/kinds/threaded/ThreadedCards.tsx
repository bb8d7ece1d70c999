/** The face that is threaded, the thread's form and size, how far it goes, and what it is made to. */
import { Button, SegmentedControl, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import { askFace } from "../../slip/askFace";
import { HandPick } from "../../slip/HandPick";
import { StartsField } from "../../slip/StartsField";
import { Card } from "../../slip/Card";
import { useDraft, type Draft } from "../../slip/draft";
import { More } from "../../slip/More";
import { faceTitle } from "../../state/faceTitle";
import { faceRef } from "../../state/pickedFace";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import { fieldFor } from "../../slip/StepField";
import fields from "../../ui/fields.module.css";
import { OwnGroove } from "./OwnGroove";
import type { ThreadedStep } from "./step";

const Field = fieldFor<ThreadedStep>();

const FORMS = [
  { value: "metric", label: "Metric, ISO" },
  { value: "unified", label: "Unified, inch" },
  { value: "trapezoidal", label: "Trapezoidal" },
  { value: "pipe", label: "Pipe, parallel" },
  { value: "taper", label: "Pipe, taper" },
  { value: "buttress", label: "Buttress" },
  { value: "square", label: "Square" },
  { value: "knuckle", label: "Round knuckle" },
  { value: "own", label: "A groove of one's own" },
];
const WITH_ARCS = ["metric", "unified", "pipe", "taper", "buttress"];
const PICK = "Pick a round face";
const MOST_STARTS = 12;

export function ThreadedCards({ step }: { step: ThreadedStep }) {
  const draft = useDraft<ThreadedStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <FaceCard step={step} draft={draft} />
      <Card title="Thread" tone="section">
        <Select
          aria-label="Form of the thread"
          data={FORMS}
          value={step.form}
          onChange={(v) => v !== null && draft.commit("Change the form", { form: v as ThreadedStep["form"] })}
        />
        {WITH_ARCS.includes(step.form) && (
          <SegmentedControl
            aria-label="Roots"
            data={[
              { value: "flat", label: "Flat roots" },
              { value: "rounded", label: "Rounded" },
            ]}
            value={step.rounded ? "rounded" : "flat"}
            onChange={(v) => draft.commit("Change the roots", { rounded: v === "rounded" })}
          />
        )}
        {step.form !== "own" && <Field of="size" empty="found" />}
        <Field of="pitch" empty={step.form === "metric" ? "coarse" : "needed"} />
        {step.form === "own" && <OwnGroove step={step} draft={draft} units={units} />}
        <HandPick value={step.hand} onPick={(hand) => draft.commit("Change hand", { hand })} />
        <Field of="start_angle" />
        <StartsField
          value={step.starts}
          most={MOST_STARTS}
          onPick={(starts) => draft.commit("Change starts", { starts })}
        />
      </Card>
      <Card title="How far" tone="path">
        <Field of="offset" empty="the end" />
        <Field of="length" empty="to the end" />
        <Field of="run_out" />
        <Field of="chamfer" />
        <Field of="relief" />
        {step.relief !== 0 && <Field of="relief_depth" empty="found" />}
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => draft.commit("Begin at the other end", { flipped: !step.flipped })}
        >
          Begin at the other end
        </Button>
      </Card>
      <Card title="Made">
        <SegmentedControl
          aria-label="Real or drawn only"
          data={[
            { value: "real", label: "Real" },
            { value: "drawn", label: "Drawn only" },
          ]}
          value={step.real ? "real" : "drawn"}
          onChange={(v) => draft.commit("Change how the thread is made", { real: v === "real" })}
        />
        <ClassField key={step.tolerance} step={step} draft={draft} name="tolerance" />
        {step.tolerance !== "" && <ClassField key={`mate ${step.mate}`} step={step} draft={draft} name="mate" />}
        <SegmentedControl
          aria-label="Cut to"
          data={[
            { value: "basic", label: "Basic size" },
            { value: "mean", label: "Middle of the class" },
          ]}
          value={step.made}
          onChange={(v) => draft.commit("Change what it is cut to", { made: v })}
        />
        <More label="Strength and friction" open={false}>
          <Field of="bolt_strength" unit="MPa" />
          <Field of="nut_strength" unit="MPa" />
          <Field of="friction" />
        </More>
      </Card>
    </>
  );
}

interface Shared {
  step: ThreadedStep;
  draft: Draft<ThreadedStep>;
}

function FaceCard({ step, draft }: Shared) {
  const waiting = useView((s) => s.pick?.label === PICK);
  return (
    <Card title="Face">
      <span>{faceTitle(step.face.face)}</span>
      <Button
        size="compact-xs"
        variant={waiting ? "filled" : "default"}
        aria-pressed={waiting}
        onClick={() => askFace(step.id, PICK, (_, face) => draft.commit("Pick a face", { face: faceRef(face) }))}
      >
        {waiting ? "Click it in the stage…" : "Another face"}
      </Button>
    </Card>
  );
}

/** The tolerance class, in words of the standard. */
function ClassField({ step, draft, name }: Shared & { name: "tolerance" | "mate" }) {
  const [text, setText] = useState(step[name]);
  const keep = () => text !== step[name] && draft.commit("Change the class", { [name]: text.trim() });
  return (
    <TextInput
      className={fields.expression}
      classNames={{ input: "figures" }}
      label={name === "mate" ? "Goes with" : "Class"}
      placeholder={name === "mate" ? "the usual" : step.form === "unified" ? "2A, 2B" : "6g, 6H"}
      value={text}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") e.currentTarget.blur();
      }}
    />
  );
}
