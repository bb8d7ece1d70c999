/** A groove of one's own: by its corners, how far along the axis and how deep, or as drawn in a sketch. */
import { ActionIcon, Button, SegmentedControl } from "@mantine/core";
import type { Expression, Units } from "../../api/types";
import { pathFor } from "../../commands/add";
import type { Draft } from "../../slip/draft";
import { SourcePick } from "../../slip/SourcePick";
import { stepsBefore, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { ExpressionField } from "../../ui/ExpressionField";
import styles from "./OwnGroove.module.css";
import type { ThreadedStep } from "./step";

type Corner = ThreadedStep["own"][number];

const FIRST: Corner[] = [
  { along: 0, deep: 0 },
  { along: 0.6, deep: 1 },
  { along: 1.2, deep: 0 },
];

interface Props {
  step: ThreadedStep;
  draft: Draft<ThreadedStep>;
  units: Units;
}

export function OwnGroove(props: Props) {
  const { step, draft } = props;
  const part = usePart((s) => s.document)!;
  const path = pathFor({ ...part, steps: stepsBefore(part, step.id) }, null);
  const choose = (how: string) => {
    if (how === "typed") draft.commit("Type the groove", { drawn: null });
    else if (path !== null) draft.commit("Take a drawn groove", { drawn: { step: path, curves: null } });
  };
  return (
    <>
      <SegmentedControl
        aria-label="How the groove is given"
        data={[
          { value: "typed", label: "By corners" },
          { value: "drawn", label: "As drawn", disabled: path === null },
        ]}
        value={step.drawn ? "drawn" : "typed"}
        onChange={choose}
      />
      {step.drawn ? (
        <SourcePick
          label="The drawing of the groove"
          kinds={pathSources()}
          value={step.drawn.step}
          onPick={(id) => draft.commit("Pick the groove", { drawn: { step: id, curves: null } })}
        />
      ) : (
        <Corners {...props} />
      )}
    </>
  );
}

function Corners({ step, draft, units }: Props) {
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
      onPreview={(v) => v === null || draft.preview({ own: put(i, { [name]: v }) })}
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
