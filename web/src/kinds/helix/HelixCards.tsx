/** What makes a helix: its axis, its radius, and two of pitch, turns and height, or a table of pitches. */
import { SegmentedControl } from "@mantine/core";
import type { Expression } from "../../api/types";
import type { HelixStep } from "./step";
import { usePart } from "../../state/part";
import { HandPick } from "../../slip/HandPick";
import { StartsField } from "../../slip/StartsField";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { fieldFor } from "../../slip/StepField";
import { TableFields } from "../../slip/TableFields";
import { PlanePick } from "../../slip/PlanePick";

const Field = fieldFor<HelixStep>();

type Given = "pitch" | "turns" | "height";

const MOST_STARTS = 100;

export function HelixCards({ step }: { step: HelixStep }) {
  const draft = useDraft<HelixStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const table = step.pitch_table;
  /** The third of the three is the one that gives way. */
  const with_ = (name: Given, value: Expression | null): Pick<HelixStep, Given> => {
    const next = { pitch: step.pitch, turns: step.turns, height: step.height, [name]: value };
    if (value !== null && Object.values(next).every((v) => v !== null)) {
      const order = (["height", "turns", "pitch"] as const).filter((n) => n !== name);
      next[step[name] === null ? order[0]! : name] = step[name] === null ? null : value;
    }
    return next;
  };
  const one = (name: Given, label: string, unit: string) => (
    <ExpressionField
      label={label}
      unit={unit}
      value={step[name]}
      {...(table === null ? { empty: "follows" } : {})}
      onPreview={(v) => draft.preview(with_(name, v))}
      onCommit={(v) => draft.commit(`Change ${name}`, with_(name, v))}
    />
  );
  return (
    <>
      <Card title="Axis: square to a plane, through its origin">
        <PlanePick label="Plane" value={step.plane} onPick={(plane) => draft.commit("Pick plane", { plane })} />
      </Card>
      <Card title="Coil" tone="path">
        <Field of="radius" />
        <Field of="end_radius" empty="the same" />
        <SegmentedControl
          aria-label="How the pitch is given"
          data={[
            { value: "even", label: "Even pitch" },
            { value: "table", label: "Table of pitches" },
          ]}
          value={table === null ? "even" : "table"}
          onChange={(how) =>
            draft.commit(
              how === "table" ? "Pitches in a table" : "Even pitch",
              how === "table" ? tabled(step) : { pitch_table: null, pitch: table?.[0]?.value ?? 10 },
            )
          }
        />
        {table === null && one("pitch", "Pitch", units)}
        {one("turns", "Turns", "turns")}
        {table === null && one("height", "Height", units)}
        {table !== null && (
          <TableFields
            unit={units}
            units={units}
            over="turn"
            length={typeof step.turns === "number" ? step.turns : 1}
            onlySmooth
            table={{ points: table, smooth: true }}
            onPreview={(t) => draft.preview({ pitch_table: t.points })}
            onCommit={(t) => draft.commit("Change pitches", { pitch_table: t.points })}
          />
        )}
        <Field of="start_angle" />
        <HandPick value={step.hand} onPick={(hand) => draft.commit("Change hand", { hand })} />
        <StartsField
          value={step.starts}
          most={MOST_STARTS}
          onPick={(starts) => draft.commit("Change starts", { starts })}
        />
      </Card>
    </>
  );
}

/** Pitches in a table, closed at both ends to begin with. */
function tabled(step: HelixStep): Partial<HelixStep> {
  const turns = typeof step.turns === "number" ? step.turns : 6;
  const pitch = typeof step.pitch === "number" ? step.pitch : 10;
  const closed = Number((pitch / 3).toPrecision(3));
  const points =
    turns > 4
      ? [
          [0, closed],
          [1, closed],
          [1.5, pitch],
          [turns - 1.5, pitch],
          [turns - 1, closed],
          [turns, closed],
        ]
      : [
          [0, pitch],
          [turns, pitch],
        ];
  return { turns, pitch: null, height: null, pitch_table: points.map(([at, value]) => ({ at: at!, value: value! })) };
}
