/** To which station of which path something is carried, and how it turns on the way. */
import { Switch } from "@mantine/core";
import type { Expression } from "../api/types";
import { usePart } from "../state/part";
import { pathSources } from "../state/paths";
import { ExpressionField } from "../ui/ExpressionField";
import { Card } from "./Card";
import { SourcePick } from "./SourcePick";

interface Along {
  along: { step: string; curves: string[] | null };
  at: Expression;
  held: boolean;
  turn: Expression;
}

interface Props<T extends Along> {
  how: T;
  onPreview?: (how: T) => void;
  onCommit: (label: string, how: T) => void;
}

export function AlongFields<T extends Along>({ how, onPreview, onCommit }: Props<T>) {
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <Card title="Carried along" tone="path">
      <SourcePick
        label="Path that it is carried along"
        kinds={pathSources()}
        value={how.along.step}
        onPick={(step) => onCommit("Pick the path", { ...how, along: { step, curves: null } })}
      />
      <ExpressionField
        label="To station"
        unit={units}
        value={how.at}
        onPreview={(v) => onPreview?.({ ...how, at: v ?? 0 })}
        onCommit={(v) => onCommit("Move it along", { ...how, at: v ?? 0 })}
      />
      <ExpressionField
        label="Turned about the path"
        unit="°"
        value={how.turn}
        onPreview={(v) => onPreview?.({ ...how, turn: v ?? 0 })}
        onCommit={(v) => onCommit("Turn it about the path", { ...how, turn: v ?? 0 })}
      />
      <Switch
        mt={6}
        size="xs"
        label="Held parallel"
        checked={how.held}
        onChange={(e) => onCommit("Change how it turns", { ...how, held: e.currentTarget.checked })}
      />
    </Card>
  );
}
