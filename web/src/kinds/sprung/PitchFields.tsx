/** The pitch along a spring that is pressed: even, or by shares that stand evenly over its active turns. */
import { Button } from "@mantine/core";
import type { Draft } from "../../slip/draft";
import { More } from "../../slip/More";
import { ExpressionField } from "../../ui/ExpressionField";
import styles from "./PitchFields.module.css";
import type { SprungStep } from "./step";

const FEWEST = 2;

export function PitchFields({ step, draft }: { step: SprungStep; draft: Draft<SprungStep> }) {
  const shares = step.pitches;
  const change = (label: string, pitches: SprungStep["pitches"]) => draft.commit(label, { pitches });
  return (
    <More label="Pitch along it" open={shares.length > 0}>
      {shares.map((share, i) => (
        <ExpressionField
          key={i}
          label={`Share ${i + 1} of the pitch`}
          unit=""
          value={share}
          onCommit={(v) => change("Change the pitch", shares.with(i, v ?? 1))}
        />
      ))}
      <div className={styles.row}>
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => change("Add a share of the pitch", shares.length === 0 ? [1, 2] : [...shares, shares.at(-1)!])}
        >
          {shares.length === 0 ? "Not even" : "Add a share"}
        </Button>
        {shares.length > 0 && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => change("Drop a share of the pitch", shares.length > FEWEST ? shares.slice(0, -1) : [])}
          >
            {shares.length > FEWEST ? "Drop the last" : "Even again"}
          </Button>
        )}
      </div>
    </More>
  );
}
