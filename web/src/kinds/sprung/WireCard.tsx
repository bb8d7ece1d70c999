/** The wire: how thick, and of what. */
import { Select } from "@mantine/core";
import type { Units } from "../../api/types";
import { Card } from "../../slip/Card";
import type { Draft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import type { SprungStep } from "./step";

const GRADES = [
  { value: "SL", label: "EN 10270-1 SL" },
  { value: "SM", label: "EN 10270-1 SM" },
  { value: "SH", label: "EN 10270-1 SH" },
  { value: "1.4310", label: "EN 10270-3 1.4310" },
  { value: "own", label: "Another" },
];
const OWN = { shear: 81500, elastic: 206000, strength: 1700, density: 7.85 };
const NUMBERS = [
  ["shear", "Shear modulus", "MPa"],
  ["elastic", "Elastic modulus", "MPa"],
  ["strength", "Strength", "MPa"],
  ["density", "Density", "kg/dm³"],
] as const;

export function WireCard({ step, draft, units }: { step: SprungStep; draft: Draft<SprungStep>; units: Units }) {
  const { material } = step;
  const pick = (v: string | null) =>
    v !== null &&
    draft.commit("Change the wire's grade", { material: v === "own" ? OWN : (v as "SL" | "SM" | "SH" | "1.4310") });
  return (
    <Card title="Wire" tone="section">
      <ExpressionField
        label="Wire"
        unit={units}
        value={step.wire}
        onPreview={(v) => draft.preview({ wire: v ?? 0 })}
        onCommit={(v) => draft.commit("Change the wire", { wire: v ?? 0 })}
      />
      <Select
        aria-label="Wire grade"
        data={GRADES}
        value={typeof material === "object" ? "own" : material}
        onChange={pick}
      />
      {typeof material === "object" &&
        NUMBERS.map(([name, label, unit]) => (
          <ExpressionField
            key={name}
            label={label}
            unit={unit}
            value={material[name]}
            onCommit={(v) =>
              draft.commit(`Change ${label.toLowerCase()}`, { material: { ...material, [name]: v ?? 0 } })
            }
          />
        ))}
    </Card>
  );
}
