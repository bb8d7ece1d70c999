/** Where along a path a plane stands, and several of them at once. */
import { Button, NumberInput, SegmentedControl } from "@mantine/core";
import { useState } from "react";
import type { Part } from "../../api/types";
import type { NormalPlane } from "./step";
import { reportOf, usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { planesByCount, planesBySpacing } from "./many";
import { useView } from "../../state/view";
import { inUnits } from "../../ui/format";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { More } from "../../slip/More";
import { SourcePick } from "../../slip/SourcePick";
import fields from "../../ui/fields.module.css";

const PLACES = [
  { value: "start", label: "Start" },
  { value: "end", label: "End" },
  { value: "length", label: "Length" },
  { value: "ratio", label: "Share" },
];
const MOST = 200;

export function PlaneCards({ step }: { step: NormalPlane }) {
  const draft = useDraft<NormalPlane>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <Card title="Path" tone="path">
        <SourcePick
          label="Path"
          kinds={pathSources()}
          value={step.path.step}
          onPick={(id) => draft.commit("Pick path", { path: { step: id, curves: null } })}
        />
      </Card>
      <Card title="Where along it">
        <SegmentedControl
          aria-label="Place"
          data={PLACES}
          value={step.place}
          onChange={(place) => draft.commit("Change place", { place: place as NormalPlane["place"] })}
        />
        {(step.place === "length" || step.place === "ratio") && (
          <ExpressionField
            label={step.place === "length" ? "Station" : "Share of the length"}
            unit={step.place === "length" ? units : "0–1"}
            value={step.value}
            onCommit={(v) => draft.commit("Change station", { value: v ?? 0 })}
          />
        )}
        <More label="Several at once" open={false}>
          <Several step={step} />
        </More>
      </Card>
      <Button
        mt={4}
        variant="light"
        fullWidth
        onClick={() => useView.getState().ask({ kind: "square", step: step.id })}
      >
        Look square at it
      </Button>
    </>
  );
}

/** Further planes on the same path: spread over it, or from this one on. */
function Several({ step }: { step: NormalPlane }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const known = usePart((s) => reportOf(s.result, step.id)?.data);
  const closed = usePart((s) => reportOf(s.result, step.path.step)?.data.path?.closed ?? false);
  const [by, setBy] = useState("count");
  const [count, setCount] = useState<number | string>(5);
  const [spacing, setSpacing] = useState<number | string>(20);
  const length = known?.length === undefined ? null : inUnits(known.length, units);
  const station = inUnits(known?.station ?? 0, units);
  const ready =
    by === "count"
      ? Number(count) >= 2 && Number(count) <= MOST
      : length !== null && Number(spacing) > 0 && (length - station) / Number(spacing) <= MOST;
  const add = (p: Part): Part =>
    by === "count"
      ? planesByCount(p, step, Number(count), closed)
      : planesBySpacing(p, step, Number(spacing), station, length ?? 0);
  return (
    <>
      <SegmentedControl
        aria-label="Several by"
        data={[
          { value: "count", label: "So many in all" },
          { value: "spacing", label: "By spacing" },
        ]}
        value={by}
        onChange={setBy}
      />
      {by === "count" && (
        <NumberInput
          className={fields.expression}
          classNames={{ input: "figures" }}
          label="Planes in all"
          min={2}
          max={MOST}
          allowDecimal={false}
          value={count}
          onChange={setCount}
        />
      )}
      {by === "spacing" && (
        <NumberInput
          className={fields.expression}
          classNames={{ input: "figures" }}
          label={`Spacing, ${units}`}
          min={0}
          value={spacing}
          onChange={setSpacing}
        />
      )}
      <Button
        size="compact-xs"
        variant="default"
        disabled={!ready}
        onClick={() => void usePart.getState().change("Several planes", add)}
      >
        {by === "count" ? "Spread them over the path" : "Add them up to the end"}
      </Button>
    </>
  );
}
