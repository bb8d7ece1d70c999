/** Cards made from what the server says of a kind's fields: for kinds that have none of their own. */
import { NumberInput, Select, Switch, TextInput } from "@mantine/core";
import type { Expression, Field, PlaneRef, Step, Use } from "../api/types";
import { fieldsOf, FITS, kindsThatGive } from "../state/fields";
import { usePart } from "../state/part";
import { worded } from "../ui/worded";
import { Card } from "./Card";
import { useDraft, useFirstPreview } from "./draft";
import { ExpressionField } from "../ui/ExpressionField";
import { PlanePick } from "./PlanePick";
import { SourcePick } from "./SourcePick";
import { labelOf, unitOf } from "./StepField";
import fields from "../ui/fields.module.css";

type Thing = Record<string, unknown>;

const sources = (use: Use): Step["kind"][] => kindsThatGive(...FITS[use]);

export function PlainCards({ step }: { step: Step }) {
  const draft = useDraft<Step>(step.id);
  useFirstPreview(step.id, draft);
  const known = fieldsOf(step.kind);
  const values = step as unknown as Thing;
  return (
    <Card title={known?.title ?? step.kind}>
      {Object.entries(known?.fields ?? {})
        .filter(([, f]) => f.when === undefined || f.when[1].includes(String(values[f.when[0]])))
        .map(([name, field]) => (
          <PlainField
            key={name}
            label={labelOf(name, field)}
            field={field}
            value={values[name]}
            onPreview={(v) => draft.preview({ [name]: v })}
            onCommit={(v) => draft.commit(`Change ${labelOf(name, field).toLowerCase()}`, { [name]: v })}
          />
        ))}
    </Card>
  );
}

interface Props {
  label: string;
  field: Field;
  value: unknown;
  onPreview: (value: unknown) => void;
  onCommit: (value: unknown) => void;
}

function PlainField({ label, field, value, onPreview, onCommit }: Props) {
  const units = usePart((s) => s.document?.units ?? "mm");
  if (field.measure !== undefined) {
    const put = (v: Expression | null) => v ?? (field.empty ? null : 0);
    return (
      <ExpressionField
        label={label}
        unit={unitOf(field.measure, units)}
        value={value as Expression | null}
        {...(field.empty ? { empty: "none" } : {})}
        onPreview={(v) => onPreview(put(v))}
        onCommit={(v) => onCommit(put(v))}
      />
    );
  }
  if (field.choice !== undefined)
    return (
      <Select
        className={fields.expression}
        label={label}
        aria-label={label}
        data={field.choice.map((c) => ({ value: c, label: worded(c) }))}
        value={value as string}
        onChange={(v) => v !== null && onCommit(v)}
      />
    );
  if (field.type === "switch")
    return (
      <Switch
        mt={6}
        size="xs"
        label={label}
        checked={value === true}
        onChange={(e) => onCommit(e.currentTarget.checked)}
      />
    );
  if (field.type === "count")
    return (
      <NumberInput
        className={fields.expression}
        label={label}
        aria-label={label}
        value={value as number}
        onChange={(v) => typeof v === "number" && onCommit(v)}
      />
    );
  if (field.use !== undefined && field.type === "text")
    return (
      <SourcePick label={label} kinds={sources(field.use)} value={(value as string | null) ?? ""} onPick={onCommit} />
    );
  if (isPlane(field)) return <PlanePick label={label} value={value as PlaneRef | null} onPick={onCommit} />;
  const only = field.forms?.length === 1 ? field.forms[0]!.fields : undefined;
  const use = only?.step?.use;
  if (use !== undefined) {
    const rest = Object.fromEntries(
      Object.entries(only!)
        .filter(([n]) => n !== "step")
        .map(([n, f]) => [n, f.default ?? null]),
    );
    return (
      <SourcePick
        label={label}
        kinds={sources(use)}
        value={(value as { step: string } | null)?.step ?? ""}
        onPick={(id) => onCommit({ ...rest, step: id })}
      />
    );
  }
  if (only !== undefined && value !== null) {
    const own = value as Thing;
    return (
      <>
        {Object.entries(only).map(([n, f]) => (
          <PlainField
            key={n}
            label={`${label}: ${worded(n).toLowerCase()}`}
            field={f}
            value={own[n]}
            onPreview={(v) => onPreview({ ...own, [n]: v })}
            onCommit={(v) => onCommit({ ...own, [n]: v })}
          />
        ))}
      </>
    );
  }
  return (
    <TextInput className={fields.expression} label={label} aria-label={label} readOnly value={JSON.stringify(value)} />
  );
}

/** Whether a field is a plane: a principal one, or that of a step. */
const isPlane = (field: Field): boolean =>
  field.forms?.length === 2 && field.forms.every((f) => f.tags.kind === "principal" || f.tags.kind === "step");
