/** A law along the path as numbers: even, by a rate, or a table of stations; the strip shows and drags the same table. */
import { ActionIcon, Button, Checkbox, Select } from "@mantine/core";
import type { Expression, SweepStep, Units } from "../api/types";
import { ExpressionField } from "../ui/ExpressionField";

type Twist = SweepStep["twist"];
type Size = SweepStep["size"];
type Table = { points: { at: Expression; value: Expression }[]; smooth: boolean };

interface LawProps<T> {
  value: T;
  units: Units;
  length: number;
  onPreview: (value: T) => void;
  onCommit: (value: T) => void;
}

const TWISTS = [{ value: "turns", label: "Even, turns in all" }, { value: "pitch", label: "Even, length per turn" }, { value: "table", label: "Table" }];

export function TwistFields({ value, units, length, onPreview, onCommit }: LawProps<Twist>) {
  const how = typeof value === "object" ? value.by : "turns";
  const choose = (next: string | null) => {
    if (next === "turns") onCommit(0);
    else if (next === "pitch") onCommit({ by: "pitch", pitch: length });
    else if (next === "table") onCommit({ by: "table", points: [{ at: 0, value: 0 }, { at: round(length), value: 90 }], smooth: true });
  };
  return (
    <>
      <Select aria-label="Twist law" data={TWISTS} value={how} onChange={choose} />
      {typeof value !== "object" && <ExpressionField label="Twist over the length" unit="turns" value={value} onPreview={(v) => onPreview(v ?? 0)} onCommit={(v) => onCommit(v ?? 0)} />}
      {typeof value === "object" && value.by === "pitch" && (
        <ExpressionField label="Length per turn" unit={units} value={value.pitch} onPreview={(pitch) => onPreview({ ...value, pitch: pitch ?? 0 })}
          onCommit={(pitch) => onCommit({ ...value, pitch: pitch ?? 0 })} />
      )}
      {typeof value === "object" && value.by === "table" && (
        <TableFields unit="°" units={units} length={length} table={value} onPreview={(t) => onPreview({ ...value, ...t })} onCommit={(t) => onCommit({ ...value, ...t })} />
      )}
    </>
  );
}

const SIZES = [{ value: "none", label: "As drawn" }, { value: "ratio", label: "Evenly to a ratio" }, { value: "taper", label: "Taper angle" }, { value: "table", label: "Table" }];

export function SizeFields({ label, value, units, length, onPreview, onCommit }: LawProps<Size> & { label: string }) {
  const choose = (next: string | null) => {
    if (next === "none") onCommit(null);
    else if (next === "ratio") onCommit({ by: "ratio", start: 1, end: 0.6 });
    else if (next === "taper") onCommit({ by: "taper", angle: -1 });
    else if (next === "table") onCommit({ by: "table", points: [{ at: 0, value: 1 }, { at: round(length / 2), value: 1.3 }, { at: round(length), value: 1 }], smooth: true });
  };
  return (
    <>
      <Select label={label} className="expression" data={SIZES} value={value?.by ?? "none"} onChange={choose} />
      {value?.by === "ratio" && (["start", "end"] as const).map((end) => (
        <ExpressionField key={end} label={`Times at the ${end}`} unit="×" value={value[end]} onPreview={(v) => onPreview({ ...value, [end]: v ?? 1 })}
          onCommit={(v) => onCommit({ ...value, [end]: v ?? 1 })} />
      ))}
      {value?.by === "taper" && (
        <ExpressionField label="Outward lean" unit="°" value={value.angle} onPreview={(angle) => onPreview({ ...value, angle: angle ?? 0 })}
          onCommit={(angle) => onCommit({ ...value, angle: angle ?? 0 })} />
      )}
      {value?.by === "table" && (
        <TableFields unit="×" units={units} length={length} table={value} onPreview={(t) => onPreview({ ...value, ...t })} onCommit={(t) => onCommit({ ...value, ...t })} />
      )}
    </>
  );
}

interface TableProps {
  unit: string;
  units: Units;
  length: number;
  table: Table;
  onlySmooth?: boolean;
  /** What its values stand over, if not stations. */
  over?: string;
  onPreview: (table: Table) => void;
  onCommit: (table: Table) => void;
}

/** Rows of station and value. Dragging their marks on the station strip changes the same rows. */
export function TableFields({ unit, units, length, table, onlySmooth, over, onPreview, onCommit }: TableProps) {
  const put = (i: number, patch: Partial<Table["points"][number]>): Table => ({ ...table, points: table.points.map((p, k) => (k === i ? { ...p, ...patch } : p)) });
  const after = (): Table => {
    const last = table.points.at(-1)!;
    const before = table.points.at(-2)!;
    const middle = typeof last.at === "number" && typeof before.at === "number" ? round((last.at + before.at) / 2) : round(length / 2);
    return { ...table, points: [...table.points.slice(0, -1), { at: middle, value: last.value }, last] };
  };
  return (
    <div className="law-table">
      <div className="law-row law-head"><span>{over ?? `station, ${units}`}</span><span>value, {unit}</span></div>
      {table.points.map((p, i) => (
        <div key={i} className="law-row">
          <Bare label={`${over === undefined ? "Station" : "Turn"} of row ${i + 1}`} value={p.at} onPreview={(at) => onPreview(put(i, { at }))} onCommit={(at) => onCommit(put(i, { at }))} />
          <Bare label={`Value of row ${i + 1}`} value={p.value} onPreview={(value) => onPreview(put(i, { value }))} onCommit={(value) => onCommit(put(i, { value }))} />
          <ActionIcon variant="subtle" color="gray" size="sm" aria-label={`Delete row ${i + 1}`} disabled={table.points.length < 3}
            onClick={() => onCommit({ ...table, points: table.points.filter((_, k) => k !== i) })}>×</ActionIcon>
        </div>
      ))}
      <div className="law-row law-foot">
        {onlySmooth ? <span /> : <Checkbox size="xs" label="Smooth" checked={table.smooth} onChange={(e) => onCommit({ ...table, smooth: e.currentTarget.checked })} />}
        <Button size="compact-xs" variant="default" onClick={() => onCommit(after())}>Add a row</Button>
      </div>
    </div>
  );
}

function Bare({ label, value, onPreview, onCommit }: { label: string; value: Expression; onPreview: (v: Expression) => void; onCommit: (v: Expression) => void }) {
  return <ExpressionField bare label={label} unit="" value={value} onPreview={(v) => onPreview(v ?? 0)} onCommit={(v) => onCommit(v ?? 0)} />;
}

const round = (v: number) => Number(v.toPrecision(4));
