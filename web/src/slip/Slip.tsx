/** The selected step: its inputs in the order in which one decides them, then results and checks. */
import { Button, SegmentedControl, Select } from "@mantine/core";
import { exportUrl } from "../api/client";
import type { ExtrudeStep, PlaneStep, SketchStep, Step, StepReport, SweepData, SweepStep } from "../api/types";
import { goTo } from "../state/goTo";
import { reportOf, stepOf, usePart } from "../state/part";
import { useView } from "../state/view";
import { area, length, trim, volume } from "../ui/format";
import { MessageLine } from "../ui/MessageLine";
import { useDraft, useFirstPreview } from "./draft";
import { ExpressionField } from "./ExpressionField";
import { DatumCards } from "./DatumCards";
import { PartSlip } from "./PartSlip";
import { PlanePick } from "./PlanePick";
import { RegionPick } from "./RegionPick";
import { Card } from "./Card";
import "./Slip.css";

export function Slip() {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const selected = useView((s) => s.selected);
  const preview = useView((s) => s.preview);
  const step = stepOf(part, selected);
  if (part === null) return null;
  if (step === undefined) return <aside className="slip" aria-label="The part"><PartSlip /></aside>;
  const built = reportOf(result, step.id);
  const report = preview?.step === step.id ? preview.report : built;
  return (
    <aside className="slip" aria-label={`Inputs of ${step.name}`}>
      <header className="slip-head"><h2>{step.name}</h2><span className="soft">{KIND_WORDS[step.kind]}</span></header>
      {(report?.messages ?? []).map((m, i) => <MessageLine key={i} message={m} onGo={() => goTo(step.id, m)} />)}
      {step.kind === "sweep" && <SweepCards key={step.id} step={step} />}
      {step.kind === "extrude" && <ExtrudeCards key={step.id} step={step} />}
      {step.kind === "plane" && <PlaneCards key={step.id} step={step} />}
      {step.kind === "datum" && <DatumCards key={step.id} step={step} />}
      {step.kind === "sketch" && <SketchCards key={step.id} step={step} report={built} />}
      <Foot report={report} checks={built} />
    </aside>
  );
}

const KIND_WORDS: Record<Step["kind"], string> = {
  sketch: "sketch", plane: "plane", datum: "plane", sweep: "profile carried along a path", extrude: "profile carried straight",
};

function SourcePick({ label, value, onPick }: { label: string; value: string; onPick: (id: string) => void }) {
  const part = usePart((s) => s.document)!;
  const self = useView((s) => s.selected);
  const before = part.steps.slice(0, part.steps.findIndex((s) => s.id === self));
  const options = before.filter((s) => s.kind === "sketch").map((s) => ({ value: s.id, label: s.name }));
  const known = options.some((o) => o.value === value);
  return (
    <Select aria-label={label} data={known ? options : [{ value, label: `${value} (gone)` }, ...options]} value={value}
      onChange={(id) => id !== null && onPick(id)} error={known ? undefined : "Pick another"} />
  );
}

const RESULTS = [
  { value: "separate", label: "Separate" }, { value: "add", label: "Add" }, { value: "cut", label: "Cut" },
];

function SweepCards({ step }: { step: SweepStep }) {
  const draft = useDraft<SweepStep>(step.id);
  useFirstPreview(step.id, draft);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <Card title="Path" tone="path">
        <SourcePick label="Path" value={step.path.step} onPick={(id) => draft.commit("Pick path", { path: { step: id, curves: null } })} />
      </Card>
      <Card title="Profile" tone="section">
        <SourcePick label="Profile" value={step.profile.step} onPick={(id) => draft.commit("Pick profile", { profile: { step: id, regions: null } })} />
        <RegionPick profile={step.profile.step} value={step.profile.regions}
          onPick={(regions) => draft.commit("Pick regions", { profile: { step: step.profile.step, regions } })} />
        <ExpressionField label="Wall, inward" unit={units} value={step.wall} empty="solid" onPreview={(wall) => draft.preview({ wall })}
          onCommit={(wall) => draft.commit("Change wall", { wall })} />
      </Card>
      <Card title="Turning with the path">
        <ExpressionField label="Twist over the length" unit="turns" value={step.twist} onPreview={(twist) => draft.preview({ twist: twist ?? 0 })}
          onCommit={(twist) => draft.commit("Change twist", { twist: twist ?? 0 })} />
      </Card>
      <Card title="Result">
        <SegmentedControl aria-label="Result" data={RESULTS} value={step.result}
          onChange={(value) => draft.commit("Change result", { result: value as SweepStep["result"] })} />
        <FoldChoice step={step} onChange={(build_folded) => draft.commit(build_folded ? "Build all the same" : "Refuse folds", { build_folded })} />
      </Card>
    </>
  );
}

function FoldChoice({ step, onChange }: { step: SweepStep; onChange: (value: boolean) => void }) {
  const folded = usePart((s) => s.result?.steps[step.id]?.messages.some((m) => m.code === "fold") ?? false);
  if (!folded && !step.build_folded) return null;
  return (
    <Button variant="default" fullWidth mt={8} onClick={() => onChange(!step.build_folded)}>
      {step.build_folded ? "Refuse to build what folds" : "Build it all the same"}
    </Button>
  );
}

function ExtrudeCards({ step }: { step: ExtrudeStep }) {
  const draft = useDraft<ExtrudeStep>(step.id);
  useFirstPreview(step.id, draft);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <Card title="Profile" tone="section">
        <SourcePick label="Profile" value={step.profile.step} onPick={(id) => draft.commit("Pick profile", { profile: { step: id, regions: null } })} />
        <RegionPick profile={step.profile.step} value={step.profile.regions}
          onPick={(regions) => draft.commit("Pick regions", { profile: { step: step.profile.step, regions } })} />
      </Card>
      <Card title="Length">
        <ExpressionField label="Forward" unit={units} value={step.length} onPreview={(v) => draft.preview({ length: v ?? 0 })}
          onCommit={(v) => draft.commit("Change length", { length: v ?? 0 })} />
        <ExpressionField label="Behind" unit={units} value={step.back} onPreview={(v) => draft.preview({ back: v ?? 0 })}
          onCommit={(v) => draft.commit("Change length behind", { back: v ?? 0 })} />
      </Card>
      <Card title="Result">
        <SegmentedControl aria-label="Result" data={RESULTS} value={step.result}
          onChange={(value) => draft.commit("Change result", { result: value as ExtrudeStep["result"] })} />
      </Card>
    </>
  );
}

const PLACES = [
  { value: "start", label: "Start" }, { value: "end", label: "End" }, { value: "length", label: "Length" }, { value: "ratio", label: "Share" },
];

function PlaneCards({ step }: { step: PlaneStep }) {
  const draft = useDraft<PlaneStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <Card title="Path" tone="path">
        <SourcePick label="Path" value={step.path.step} onPick={(id) => draft.commit("Pick path", { path: { step: id, curves: null } })} />
      </Card>
      <Card title="Where along it">
        <SegmentedControl aria-label="Place" data={PLACES} value={step.place}
          onChange={(place) => draft.commit("Change place", { place: place as PlaneStep["place"] })} />
        {(step.place === "length" || step.place === "ratio") && (
          <ExpressionField label={step.place === "length" ? "Station" : "Share of the length"} unit={step.place === "length" ? units : "0–1"}
            value={step.value} onCommit={(v) => draft.commit("Change station", { value: v ?? 0 })} />
        )}
      </Card>
      <Button mt={4} variant="light" fullWidth onClick={() => useView.getState().ask({ kind: "square", step: step.id })}>Look square at it</Button>
    </>
  );
}

function SketchCards({ step, report }: { step: SketchStep; report: StepReport | undefined }) {
  const freedom = report?.data.freedom;
  return (
    <>
      <Card title="Plane">
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => void usePart.getState().change("Move sketch to another plane", (p) => ({
          ...p, steps: p.steps.map((s) => (s.id === step.id ? { ...step, plane } : s)),
        }))} />
      </Card>
      <Button fullWidth onClick={() => useView.getState().sketch(step.id)}>Open sketch</Button>
      {freedom !== undefined && <p className="soft">{freedom === 0 ? "Settled: nothing can move." : `${freedom} ways to move are still free.`}</p>}
    </>
  );
}

function Foot({ report, checks }: { report: StepReport | undefined; checks: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const id = usePart((s) => s.id);
  const data = report?.data as Partial<SweepData> | undefined;
  const numbers = data?.numbers;
  return (
    <footer className="slip-foot">
      {numbers && data?.section && (
        <table className="numbers figures">
          <tbody>
            <Row name="Length" value={length(numbers.length, units, 6)} />
            <Row name="Section" value={area(data.section.area, units)} />
            <Row name="Volume" value={volume(numbers.volume, units)} />
            <Row name="Surface" value={area(numbers.area, units)} />
            <Row name="Tightest bend" value={numbers.tightest === null ? "straight" : length(numbers.tightest, units)} />
            <Row name="Centre" value={numbers.centre.map((c) => trim(units === "in" ? c / 25.4 : c)).join(", ")} />
            {checks?.data.checks && checks.state === "fresh" && (
              <Row name="Solid" value={`${checks.data.checks.valid ? "valid" : "not valid"}, ${checks.data.faces} faces`} />
            )}
          </tbody>
        </table>
      )}
      {numbers && id !== null && checks?.state === "fresh" && (
        <div className="downloads" aria-label="Save the result">
          <span className="soft">Save the part as</span>
          {(["step", "stl", "glb"] as const).map((form) => (
            <Button key={form} component="a" href={exportUrl(id, form)} variant="default" size="compact-xs">{form === "glb" ? "glTF" : form.toUpperCase()}</Button>
          ))}
        </div>
      )}
    </footer>
  );
}

function Row({ name, value }: { name: string; value: string }) {
  return <tr><th scope="row">{name}</th><td>{value}</td></tr>;
}
