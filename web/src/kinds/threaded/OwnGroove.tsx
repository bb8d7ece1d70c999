/** The corners of a groove of one's own: how far along the axis, and how deep. */
import { ActionIcon, Button } from "@mantine/core";
import type { Expression, Units } from "../../api/types";
import type { Draft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import styles from "./OwnGroove.module.css";
import type { ThreadedStep } from "./step";

type Corner = ThreadedStep["own"][number];

const FIRST: Corner[] = [
  { along: 0, deep: 0 },
  { along: 0.6, deep: 1 },
  { along: 1.2, deep: 0 },
];

export function OwnGroove({ step, draft, units }: { step: ThreadedStep; draft: Draft<ThreadedStep>; units: Units }) {
  const corners = step.own;
  const set = (label: string, own: Corner[]) => draft.commit(label, { own });
  const put = (i: number, patch: Partial<Corner>) => corners.map((c, k) => (k === i ? { ...c, ...patch } : c));
  if (corners.length === 0)
    return (
      <Button size="compact-xs" variant="default" onClick={() => set("Begin a groove", FIRST)}>
        Begin with a V
      </Button>
    );
  const number = (i: number, name: keyof Corner, label: string) => (
    <ExpressionField
      bare
      label={`${label} of corner ${i + 1}`}
      unit={units}
      value={corners[i]![name]}
      onCommit={(v: Expression | null) => set("Change the groove", put(i, { [name]: v ?? 0 }))}
    />
  );
  return (
    <div className={styles.corners}>
      <div className={styles.corner}>
        <span>along, {units}</span>
        <span>deep, {units}</span>
      </div>
      {corners.map((_, i) => (
        <div key={i} className={styles.corner}>
          {number(i, "along", "Along")}
          {number(i, "deep", "Depth")}
          <ActionIcon
            variant="subtle"
            color="gray"
            size="sm"
            aria-label={`Take corner ${i + 1} away`}
            onClick={() =>
              set(
                "Take a corner away",
                corners.filter((__, k) => k !== i),
              )
            }
          >
            ×
          </ActionIcon>
        </div>
      ))}
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => set("Add a corner", [...corners.slice(0, -1), { ...corners.at(-2)! }, corners.at(-1)!])}
      >
        Another corner
      </Button>
    </div>
  );
}
