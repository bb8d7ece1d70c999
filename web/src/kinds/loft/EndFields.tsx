/** How a loft leaves its first and its last section. */
import { SegmentedControl } from "@mantine/core";
import type { Draft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import type { LoftStep } from "./step";

const WAYS = [
  { value: "free", label: "As it comes" },
  { value: "square", label: "Square to it" },
  { value: "tangent", label: "Tangent" },
];

export function EndFields({ step, draft }: { step: LoftStep; draft: Draft<LoftStep> }) {
  return (["start", "end"] as const).map((name) => {
    const end = step[name];
    const at = name === "start" ? "first" : "last";
    return (
      <div key={name}>
        <p className="soft">Leaving the {at} section</p>
        <SegmentedControl
          aria-label={`Leaving the ${at} section`}
          data={WAYS}
          value={end.how}
          onChange={(how) =>
            draft.commit(`Change the ${name}`, { [name]: { ...end, how: how as LoftStep["start"]["how"] } })
          }
        />
        {end.how !== "free" && (
          <ExpressionField
            label={`Strength at the ${name}`}
            unit="×"
            value={end.strength}
            onPreview={(v) => draft.preview({ [name]: { ...end, strength: v ?? 1 } })}
            onCommit={(v) =>
              draft.commit(`Change the strength at the ${name}`, { [name]: { ...end, strength: v ?? 1 } })
            }
          />
        )}
      </div>
    );
  });
}
