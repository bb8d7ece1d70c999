/** By how much a spring's sizes may be off: its rate and its forces are told from the least to the greatest. */
import type { Expression, Units } from "../../api/types";
import { Card } from "../../slip/Card";
import type { Draft } from "../../slip/draft";
import { More } from "../../slip/More";
import { ExpressionField } from "../../ui/ExpressionField";
import type { SprungStep } from "./step";

type Tolerances = NonNullable<SprungStep["tolerances"]>;

const NONE: Tolerances = { wire: 0, diameter: 0, turns: 0, free: 0, initial: 0 };

interface Props {
  step: SprungStep;
  draft: Draft<SprungStep>;
  units: Units;
}

export function ToleranceCard({ step, draft, units }: Props) {
  const given = step.tolerances ?? null;
  const withSize = (name: keyof Tolerances, v: Expression | null) => {
    const all = { ...NONE, ...given, [name]: v ?? 0 };
    return { tolerances: Object.values(all).every((own) => own === 0) ? null : all };
  };
  const field = (name: keyof Tolerances, size: string, unit: string) => (
    <ExpressionField
      label={`${size} ±`}
      unit={unit}
      value={given?.[name] ?? 0}
      onPreview={(v) => draft.preview(withSize(name, v))}
      onCommit={(v) => draft.commit(`Change the tolerance of the ${size.toLowerCase()}`, withSize(name, v))}
    />
  );
  return (
    <Card title="Tolerances">
      <More label="Sizes that may be off" open={given !== null}>
        {field("wire", "Wire", units)}
        {field("diameter", "Diameter", units)}
        {field("turns", "Turns", "turns")}
        {step.duty !== "torsion" && field("free", "Free length", units)}
        {step.duty === "extension" && field("initial", "Tension", "N")}
      </More>
    </Card>
  );
}
