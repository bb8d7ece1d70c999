/** The selected step: its inputs in the order in which one decides them, then results and checks. */
import { Button, Switch } from "@mantine/core";
import { exportUrl } from "../api/client";
import type { ExtrudeStep, SketchStep, Step, StepReport, SweepData, Units, Vec3 } from "../api/types";
import { goTo } from "../state/goTo";
import { reportOf, stepOf, usePart } from "../state/part";
import { useView } from "../state/view";
import { area, length, mass, trim, volume } from "../ui/format";
import { MessageLine } from "../ui/MessageLine";
import { useDraft, useFirstPreview } from "./draft";
import { EdgesCards } from "./EdgesCards";
import { ExpressionField } from "./ExpressionField";
import { ClearanceCards, ClearanceFoot } from "./ClearanceCards";
import { CurveCards } from "./CurveCards";
import { CrossingCards, ProjectedCards } from "./CrossingCards";
import { DatumCards } from "./DatumCards";
import { DerivedCards } from "./DerivedCards";
import { PartSlip } from "./PartSlip";
import { PlaneCards } from "./PlaneCards";
import { PlanePick } from "./PlanePick";
import { HoseCards } from "./HoseCards";
import { JoinedCards } from "./JoinedCards";
import { HelixCards } from "./HelixCards";
import { RegionPick } from "./RegionPick";
import { PathFoot } from "./PathFoot";
import { RouteCards } from "./RouteCards";
import { SourcePick } from "./SourcePick";
import { CopiesFoot, RepeatCards } from "./RepeatCards";
import { ResultPick } from "./ResultPick";
import { RevolveCards } from "./RevolveCards";
import { Row } from "./Row";
import { SweepCards } from "./SweepCards";
import { WoundCards } from "./WoundCards";
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
      {step.kind === "curve" && <CurveCards key={step.id} step={step} />}
      {step.kind === "helix" && <HelixCards key={step.id} step={step} />}
      {step.kind === "route" && <RouteCards key={step.id} step={step} />}
      {step.kind === "hose" && <HoseCards key={step.id} step={step} />}
      {step.kind === "edges" && <EdgesCards key={step.id} step={step} />}
      {step.kind === "joined" && <JoinedCards key={step.id} step={step} />}
      {step.kind === "wound" && <WoundCards key={step.id} step={step} />}
      {step.kind === "derived" && <DerivedCards key={step.id} step={step} />}
      {step.kind === "crossing" && <CrossingCards key={step.id} step={step} />}
      {step.kind === "projected" && <ProjectedCards key={step.id} step={step} />}
      {step.kind === "repeat" && <RepeatCards key={step.id} step={step} />}
      {step.kind === "clearance" && <ClearanceCards key={step.id} step={step} />}
      {step.kind === "extrude" && <ExtrudeCards key={step.id} step={step} />}
      {step.kind === "revolve" && <RevolveCards key={step.id} step={step} />}
      {step.kind === "plane" && <PlaneCards key={step.id} step={step} />}
      {step.kind === "datum" && <DatumCards key={step.id} step={step} />}
      {step.kind === "sketch" && <SketchCards key={step.id} step={step} report={built} />}
      <PathFoot report={report} />
      <CopiesFoot report={report} built={built} />
      <ClearanceFoot report={built} />
      <Foot report={report} checks={built} />
    </aside>
  );
}

const KIND_WORDS: Record<Step["kind"], string> = {
  sketch: "sketch", helix: "path", curve: "curve in space", route: "path through points", hose: "path between two ports", joined: "paths end to end", edges: "edges as a path", wound: "coil about a path", plane: "plane", datum: "plane", sweep: "profile carried along a path", extrude: "profile carried straight", repeat: "copies along a path", clearance: "room along a path", revolve: "profile carried round an axis", derived: "path from another", crossing: "where two surfaces cross", projected: "path laid onto a surface",
};

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
        <Switch mt={6} size="xs" label="As a surface: open outlines too" checked={step.surface} onChange={(e) => draft.commit("Change to a surface", { surface: e.currentTarget.checked })} />
      </Card>
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
      </Card>
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
  const density = usePart((s) => s.result?.density ?? null);
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
            {density !== null && numbers.volume > 0 && <Row name="Mass" value={mass(numbers.volume, density, units)} />}
            <Row name="Surface" value={area(numbers.area, units)} />
            {varies(numbers.ends) && <Row name="End faces" value={`${area(numbers.ends[0], units)}, ${area(numbers.ends[1], units)}`} />}
            <Row name="Tightest bend" value={numbers.tightest === null ? "straight" : length(numbers.tightest, units)} />
            <Row name="Centre" value={place(numbers.centre, units)} />
            {checks?.data.checks && checks.state === "fresh" && (
              <Row name="Solid" value={`${checks.data.checks.valid ? "valid" : "not valid"}, ${checks.data.faces} faces`} />
            )}
          </tbody>
        </table>
      )}
      {checks?.state === "fresh" && data?.result && (
        <table className="numbers figures" aria-label="After combining">
          <caption>{data.result.solids === 1 ? "The body after it" : `The ${data.result.solids} bodies after it`}</caption>
          <tbody>
            <Row name="Volume" value={volume(data.result.volume, units)} />
            {density !== null && <Row name="Mass" value={mass(data.result.volume, density, units)} />}
            <Row name="Surface" value={area(data.result.area, units)} />
            <Row name="Centre" value={place(data.result.centre, units)} />
            <Row name="Solid" value={`valid, ${data.result.faces} faces`} />
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

const place = (at: Vec3, units: Units): string => at.map((c) => trim(Number((units === "in" ? c / 25.4 : c).toFixed(3)))).join(", ");

/** Whether the section does not end as it began. */
function varies(ends: [number, number]): boolean {
  return Math.abs(ends[0] - ends[1]) > 1e-6 * Math.max(ends[0], ends[1]);
}
