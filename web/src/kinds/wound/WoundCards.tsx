/** What a coil is wound about, how far off it, and how often. */
import { SegmentedControl, Select } from "@mantine/core";
import type { WoundStep } from "./step";
import { reportOf, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { HandPick } from "../../slip/HandPick";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { fieldFor } from "../../slip/StepField";
import { TableFields } from "../../slip/TableFields";
import { SourcePick } from "../../slip/SourcePick";
import { isDrawn } from "../../state/drawings";
import { isAlong } from "../../state/bodies";
import fields from "../../ui/fields.module.css";

const Field = fieldFor<WoundStep>();

const SHAPES = [
  { value: "even", label: "Round" },
  { value: "tapered", label: "Round, tapered" },
  { value: "table", label: "Round, radii in a table" },
  { value: "former", label: "On a drawn former" },
];
const TURNS = [
  { value: "turns", label: "Turns in all" },
  { value: "pitch", label: "Length per turn" },
  { value: "table", label: "Table of turns" },
];
const EVEN = [
  { value: "axis", label: "Along the axis" },
  { value: "angle", label: "At one angle" },
];

const shapeOf = (s: WoundStep) =>
  s.former !== null ? "former" : s.radii !== null ? "table" : s.end_radius !== null ? "tapered" : "even";
const turnsOf = (s: WoundStep) => (s.turn_table !== null ? "table" : s.pitch !== null ? "pitch" : "turns");

export function WoundCards({ step }: { step: WoundStep }) {
  const draft = useDraft<WoundStep>(step.id);
  const part = usePart((s) => s.document)!;
  const { units } = part;
  const along = usePart((s) => reportOf(s.result, step.path.step)?.data);
  const length = along?.path?.length ?? along?.numbers?.length ?? 100;
  const [shape, counted] = [shapeOf(step), turnsOf(step)];
  const onTube = part.steps.some((s) => s.id === step.path.step && isAlong(s));
  const radius = step.radius ?? 12;
  const chooseShape = (next: string | null) => {
    const plain = { radius: step.radius, end_radius: null, radii: null, former: null };
    const drawn = part.steps.filter((s) => isDrawn(s) && s.id !== step.path.step).at(-1);
    if (next === "even") draft.commit("Wind it round", plain);
    else if (next === "tapered") draft.commit("Taper it", { ...plain, end_radius: radius });
    else if (next === "table")
      draft.commit("Radii in a table", {
        ...plain,
        radii: [
          { at: 0, value: radius },
          { at: Number(length.toPrecision(4)), value: radius },
        ],
      });
    else if (next === "former")
      draft.commit("Wind it on a former", { ...plain, former: { step: drawn?.id ?? "", regions: null }, even: "axis" });
  };
  const chooseTurns = (next: string | null) => {
    const none = { turns: null, pitch: null, turn_table: null };
    if (next === "turns") draft.commit("Turns in all", { ...none, turns: 6 });
    else if (next === "pitch") draft.commit("Length per turn", { ...none, pitch: Number((length / 6).toPrecision(3)) });
    else if (next === "table")
      draft.commit("Table of turns", {
        ...none,
        turn_table: [
          { at: 0, value: 0 },
          { at: Number(length.toPrecision(4)), value: 6 },
        ],
      });
  };
  return (
    <>
      <Card title="Axis" tone="path">
        <SourcePick
          label="Path it is wound about"
          kinds={pathSources()}
          value={step.path.step}
          onPick={(id) => draft.commit("Pick path", { path: { step: id, curves: null } })}
        />
      </Card>
      <Card title="Shape" tone="section">
        <Select aria-label="Shape of the coil" data={SHAPES} value={shape} onChange={chooseShape} />
        {(shape === "even" || shape === "tapered") && (
          <Field
            of="radius"
            label={shape === "tapered" ? "Radius at the start" : "Radius"}
            empty="tube's"
            needed={!onTube}
          />
        )}
        {shape === "tapered" && <Field of="end_radius" needed />}
        {shape === "table" && (
          <TableFields
            unit={units}
            units={units}
            length={length}
            onlySmooth
            table={{ points: step.radii!, smooth: true }}
            onPreview={(t) => draft.preview({ radii: t.points })}
            onCommit={(t) => draft.commit("Change radii", { radii: t.points })}
          />
        )}
        {shape === "former" && (
          <SourcePick
            label="Former"
            value={step.former?.step ?? ""}
            onPick={(id) => draft.commit("Pick former", { former: { step: id, regions: null } })}
          />
        )}
        {shape === "former" && <Field of="former_end" unit="×" />}
        <Field of="standoff" />
      </Card>
      <Card title="Turns">
        <Select aria-label="How turns are given" data={TURNS} value={counted} onChange={chooseTurns} />
        {counted === "turns" && <Field of="turns" needed />}
        {counted === "pitch" && <Field of="pitch" needed />}
        {counted === "table" && (
          <TableFields
            unit="turns"
            units={units}
            length={length}
            onlySmooth
            table={{ points: step.turn_table!, smooth: true }}
            onPreview={(t) => draft.preview({ turn_table: t.points })}
            onCommit={(t) => draft.commit("Change turns", { turn_table: t.points })}
          />
        )}
        <div className={fields.fieldRow}>
          <span>Even</span>
          <SegmentedControl
            aria-label="Even"
            size="xs"
            data={EVEN}
            value={step.even}
            onChange={(even) => draft.commit("Change how turns are even", { even: even as WoundStep["even"] })}
          />
        </div>
        <Field of="start_angle" />
        <HandPick value={step.hand} onPick={(hand) => draft.commit("Change hand", { hand })} />
      </Card>
    </>
  );
}
