/** A path made of another: which, and how. */
import { SegmentedControl, Select, Switch } from "@mantine/core";
import type { DerivedStep } from "./step";
import { usePart } from "../../state/part";
import { pathSources } from "../../state/paths";
import { AlongFields } from "../../slip/AlongFields";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { More } from "../../slip/More";
import { PlanePick } from "../../slip/PlanePick";
import { SourcePick } from "../../slip/SourcePick";
import fields from "../../ui/fields.module.css";

type How = DerivedStep["how"];
interface HowProps<T extends How> {
  how: T;
  units: string;
  onPreview: (how: T) => void;
  onCommit: (label: string, how: T) => void;
}

export function DerivedCards({ step }: { step: DerivedStep }) {
  const draft = useDraft<DerivedStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const { how } = step;
  const shared = {
    units,
    onPreview: (next: How) => draft.preview({ how: next }),
    onCommit: (label: string, next: How) => draft.commit(label, { how: next }),
  };
  return (
    <>
      <Card title="Path" tone="path">
        <SourcePick
          label="Path it is made of"
          kinds={pathSources()}
          value={step.path.step}
          onPick={(id) => draft.commit("Pick path", { path: { step: id, curves: null } })}
        />
      </Card>
      {how.by === "piece" && <PieceCard how={how} {...shared} />}
      {how.by === "beside" && <BesideCard how={how} {...shared} />}
      {how.by === "mirror" && (
        <Card title="Mirror">
          <PlanePick
            label="Plane"
            value={how.plane}
            onPick={(plane) => shared.onCommit("Pick plane", { ...how, plane })}
          />
        </Card>
      )}
      {how.by === "along" && <AlongFields how={how} onPreview={shared.onPreview} onCommit={shared.onCommit} />}
      {how.by === "move" && <MoveCard how={how} {...shared} />}
    </>
  );
}

function PieceCard({ how, units, onPreview, onCommit }: HowProps<Extract<How, { by: "piece" }>>) {
  const unit = how.measure === "length" ? units : "0–1";
  return (
    <Card title="From and to">
      <SegmentedControl
        aria-label="Stations by"
        data={[
          { value: "length", label: "Length" },
          { value: "ratio", label: "Share" },
        ]}
        value={how.measure}
        onChange={(measure) =>
          onCommit("Change how stations are given", { ...how, measure: measure, start: null, end: null })
        }
      />
      {(["start", "end"] as const).map((end) => (
        <ExpressionField
          key={end}
          label={end === "start" ? "From" : "To"}
          unit={unit}
          empty={end}
          value={how[end]}
          onPreview={(v) => onPreview({ ...how, [end]: v })}
          onCommit={(v) => onCommit(`Change the ${end}`, { ...how, [end]: v })}
        />
      ))}
      <Switch
        size="xs"
        label="Counted from the path's end"
        checked={how.from_end}
        onChange={(e) => onCommit("Count from the other end", { ...how, from_end: e.currentTarget.checked })}
      />
      <More label="Cut by planes" open={how.cut_start !== null || how.cut_end !== null}>
        {(["cut_start", "cut_end"] as const).map((cut) => (
          <PlanePick
            key={cut}
            label={cut === "cut_start" ? "From plane" : "To plane"}
            none="None"
            value={how[cut]}
            onPick={(plane) => onCommit("Cut by a plane", { ...how, [cut]: plane })}
            onNone={() => onCommit("Not cut by a plane", { ...how, [cut]: null })}
          />
        ))}
      </More>
    </Card>
  );
}

function BesideCard({ how, units, onPreview, onCommit }: HowProps<Extract<How, { by: "beside" }>>) {
  return (
    <Card title="Beside it">
      <ExpressionField
        label="Distance"
        unit={units}
        value={how.distance}
        onPreview={(v) => onPreview({ ...how, distance: v ?? 0 })}
        onCommit={(v) => onCommit("Change distance", { ...how, distance: v ?? 0 })}
      />
      <ExpressionField
        label="Angle about it"
        unit="°"
        value={how.angle}
        onPreview={(v) => onPreview({ ...how, angle: v ?? 0 })}
        onCommit={(v) => onCommit("Change angle", { ...how, angle: v ?? 0 })}
      />
    </Card>
  );
}

function MoveCard({ how, units, onPreview, onCommit }: HowProps<Extract<How, { by: "move" }>>) {
  return (
    <Card title="Move and turn">
      {(["dx", "dy", "dz"] as const).map((d) => (
        <ExpressionField
          key={d}
          label={`Along ${d[1]!.toUpperCase()}`}
          unit={units}
          value={how[d]}
          onPreview={(v) => onPreview({ ...how, [d]: v ?? 0 })}
          onCommit={(v) => onCommit("Move the path", { ...how, [d]: v ?? 0 })}
        />
      ))}
      <Select
        className={fields.expression}
        label="Turned about"
        data={["X", "Y", "Z"]}
        value={how.axis}
        onChange={(axis) => axis !== null && onCommit("Change axis", { ...how, axis: axis })}
      />
      <ExpressionField
        label="By"
        unit="°"
        value={how.turn}
        onPreview={(v) => onPreview({ ...how, turn: v ?? 0 })}
        onCommit={(v) => onCommit("Turn the path", { ...how, turn: v ?? 0 })}
      />
    </Card>
  );
}
