/** Which part it is, where it stands, and the values that it has of its own. */
import { Button, Select, Switch } from "@mantine/core";
import { Link } from "react-router";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { EndPick } from "../../slip/EndPick";
import { More } from "../../slip/More";
import { lastEnd, PathPlaceFields } from "../../slip/PathPlaceFields";
import { stepsBefore, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import type { CardsProps } from "../room";
import { choosePart, keepPart } from "./choosing";
import type { PlacedStep } from "./step";

const Field = fieldFor<PlacedStep>();

const ENDS = [
  { value: "plane", label: "A plane" },
  { value: "face", label: "A face" },
  { value: "path", label: "A path" },
];

export function PlacedCards({ step, report }: CardsProps<PlacedStep>) {
  const draft = useDraft<PlacedStep>(step.id);
  const planes = report?.data.planes ?? [];
  return (
    <>
      <Card title="Part">
        <p className="figures">{report?.data.title ?? step.title}</p>
        {step.part !== "" && (
          <>
            <Switch
              size="xs"
              label="Follows the other part's changes"
              checked={step.follows}
              onChange={(e) => follow(step, e.currentTarget.checked, draft.commit)}
            />
            <Button component={Link} to={`/part/${step.part}`} size="compact-sm" variant="default">
              Open it
            </Button>
          </>
        )}
        <Button
          size="compact-sm"
          variant="default"
          onClick={() =>
            choosePart((chosen) => draft.commit("Place another part", { ...chosen, values: [], own: null }))
          }
        >
          Place another part…
        </Button>
      </Card>
      <Card title="Stands at">
        <Where step={step} />
        <Select
          label="With its"
          data={[{ value: "", label: "XY plane" }, ...planes.map((p) => ({ value: p.id, label: p.name }))]}
          value={step.own ?? ""}
          onChange={(own) => draft.commit("Place it by another plane", { own: own || null })}
        />
        <Switch
          size="xs"
          label="Turned over, so that the two planes face each other"
          checked={step.over}
          onChange={(e) => draft.commit("Turn it over", { over: e.currentTarget.checked })}
        />
        <Field of="x" />
        <Field of="y" />
        <Field of="out" />
        <Field of="turn" />
      </Card>
      <Values step={step} report={report} />
    </>
  );
}

/** A part that stays is kept as it is at that moment. */
function follow(step: PlacedStep, follows: boolean, commit: (label: string, patch: Partial<PlacedStep>) => void) {
  if (follows) commit("Follow the other part", { follows });
  else keepPart(step.part, ({ file }) => commit("Keep the other part as it is", { follows, file }));
}

function Where({ step }: { step: PlacedStep }) {
  const draft = useDraft<PlacedStep>(step.id);
  const path = usePart((s) => stepsBefore(s.document!, step.id).findLast((x) => pathSources().includes(x.kind)));
  const ends = path === undefined ? ENDS.slice(0, 2) : ENDS;
  return (
    <>
      <EndPick
        owner={step.id}
        title="Where it stands"
        asked="Pick the face that it stands on"
        ends={ends}
        value={step.at}
        onPick={(end, by) => {
          const at = end ?? (by === "path" && path !== undefined ? lastEnd(path.id) : null);
          if (at !== null) draft.commit("Place it elsewhere", { at });
        }}
      />
      {step.at.by === "path" && (
        <PathPlaceFields
          label="the place"
          at={step.at}
          onPick={(at) => draft.commit("Place it along a path", { at })}
        />
      )}
    </>
  );
}

/** Empty is the other part's own value, which stands there in grey. */
function Values({ step, report }: CardsProps<PlacedStep>) {
  const draft = useDraft<PlacedStep>(step.id);
  const known = report?.data.values ?? [];
  if (known.length === 0 && step.values.length === 0) return null;
  const gone = step.values.filter((v) => known.every((k) => k.name !== v.name));
  const rows = [...known, ...gone.map((v) => ({ name: v.name, value: "gone", note: "" }))];
  const withValue = (name: string, value: string | number | null) => {
    const rest = step.values.filter((v) => v.name !== name);
    return { values: value === null ? rest : [...rest, { name, value }] };
  };
  return (
    <Card title="Values of its own">
      <More label={`${step.values.length} of ${rows.length} changed`} open={step.values.length > 0}>
        {rows.map((v) => (
          <ExpressionField
            key={v.name}
            label={v.note || v.name}
            unit=""
            empty={v.value}
            value={step.values.find((own) => own.name === v.name)?.value ?? null}
            onPreview={(value) => draft.preview(withValue(v.name, value))}
            onCommit={(value) => draft.commit(`Change ${v.name}`, withValue(v.name, value))}
          />
        ))}
      </More>
    </Card>
  );
}
