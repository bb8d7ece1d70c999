/** A sweep's laws as numbers: even, by a rate, or a table of stations. */
import { Select } from "@mantine/core";
import type { Units } from "../../api/types";
import { round, TableFields } from "../../slip/TableFields";
import { ExpressionField } from "../../ui/ExpressionField";
import type { SweepStep } from "./step";
import fields from "../../ui/fields.module.css";

type Twist = SweepStep["twist"];
type Size = SweepStep["size"];

interface LawProps<T> {
  value: T;
  units: Units;
  length: number;
  onPreview: (value: T) => void;
  onCommit: (value: T) => void;
}

const TWISTS = [
  { value: "turns", label: "Even, turns in all" },
  { value: "pitch", label: "Even, length per turn" },
  { value: "table", label: "Table" },
];

export function TwistFields({ value, units, length, onPreview, onCommit }: LawProps<Twist>) {
  const how = typeof value === "object" ? value.by : "turns";
  const choose = (next: string | null) => {
    if (next === "turns") onCommit(0);
    else if (next === "pitch") onCommit({ by: "pitch", pitch: length });
    else if (next === "table")
      onCommit({
        by: "table",
        points: [
          { at: 0, value: 0 },
          { at: round(length), value: 90 },
        ],
        smooth: true,
      });
  };
  return (
    <>
      <Select aria-label="Twist law" data={TWISTS} value={how} onChange={choose} />
      {typeof value !== "object" && (
        <ExpressionField
          label="Twist over the length"
          unit="turns"
          value={value}
          onPreview={(v) => onPreview(v ?? 0)}
          onCommit={(v) => onCommit(v ?? 0)}
        />
      )}
      {typeof value === "object" && value.by === "pitch" && (
        <ExpressionField
          label="Length per turn"
          unit={units}
          value={value.pitch}
          onPreview={(pitch) => onPreview({ ...value, pitch: pitch ?? 0 })}
          onCommit={(pitch) => onCommit({ ...value, pitch: pitch ?? 0 })}
        />
      )}
      {typeof value === "object" && value.by === "table" && (
        <TableFields
          unit="°"
          units={units}
          length={length}
          table={value}
          onPreview={(t) => onPreview({ ...value, ...t })}
          onCommit={(t) => onCommit({ ...value, ...t })}
        />
      )}
    </>
  );
}

const SIZES = [
  { value: "none", label: "As drawn" },
  { value: "ratio", label: "Evenly to a ratio" },
  { value: "taper", label: "Taper angle" },
  { value: "table", label: "Table" },
];

export function SizeFields({ label, value, units, length, onPreview, onCommit }: LawProps<Size> & { label: string }) {
  const choose = (next: string | null) => {
    if (next === "none") onCommit(null);
    else if (next === "ratio") onCommit({ by: "ratio", start: 1, end: 0.6 });
    else if (next === "taper") onCommit({ by: "taper", angle: -1 });
    else if (next === "table")
      onCommit({
        by: "table",
        points: [
          { at: 0, value: 1 },
          { at: round(length / 2), value: 1.3 },
          { at: round(length), value: 1 },
        ],
        smooth: true,
      });
  };
  return (
    <>
      <Select label={label} className={fields.expression} data={SIZES} value={value?.by ?? "none"} onChange={choose} />
      {value?.by === "ratio" &&
        (["start", "end"] as const).map((end) => (
          <ExpressionField
            key={end}
            label={`Times at the ${end}`}
            unit="×"
            value={value[end]}
            onPreview={(v) => onPreview({ ...value, [end]: v ?? 1 })}
            onCommit={(v) => onCommit({ ...value, [end]: v ?? 1 })}
          />
        ))}
      {value?.by === "taper" && (
        <ExpressionField
          label="Outward lean"
          unit="°"
          value={value.angle}
          onPreview={(angle) => onPreview({ ...value, angle: angle ?? 0 })}
          onCommit={(angle) => onCommit({ ...value, angle: angle ?? 0 })}
        />
      )}
      {value?.by === "table" && (
        <TableFields
          unit="×"
          units={units}
          length={length}
          table={value}
          onPreview={(t) => onPreview({ ...value, ...t })}
          onCommit={(t) => onCommit({ ...value, ...t })}
        />
      )}
    </>
  );
}
