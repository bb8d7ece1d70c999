/** A law along the path as a table of stations; the strip shows and drags the same table. */
import { ActionIcon, Button, Checkbox } from "@mantine/core";
import type { Expression, Units } from "../api/types";
import { ExpressionField } from "../ui/ExpressionField";
import clsx from "clsx";
import styles from "./TableFields.module.css";

export type Table = { points: { at: Expression; value: Expression }[]; smooth: boolean };

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
  const put = (i: number, patch: Partial<Table["points"][number]>): Table => ({
    ...table,
    points: table.points.map((p, k) => (k === i ? { ...p, ...patch } : p)),
  });
  const after = (): Table => {
    const last = table.points.at(-1)!;
    const before = table.points.at(-2)!;
    const middle =
      typeof last.at === "number" && typeof before.at === "number"
        ? round((last.at + before.at) / 2)
        : round(length / 2);
    return { ...table, points: [...table.points.slice(0, -1), { at: middle, value: last.value }, last] };
  };
  return (
    <div className={styles.lawTable}>
      <div className={clsx(styles.lawRow, styles.lawHead)}>
        <span>{over ?? `station, ${units}`}</span>
        <span>value, {unit}</span>
      </div>
      {table.points.map((p, i) => (
        <div key={i} className={styles.lawRow}>
          <Bare
            label={`${over === undefined ? "Station" : "Turn"} of row ${i + 1}`}
            value={p.at}
            onPreview={(at) => onPreview(put(i, { at }))}
            onCommit={(at) => onCommit(put(i, { at }))}
          />
          <Bare
            label={`Value of row ${i + 1}`}
            value={p.value}
            onPreview={(value) => onPreview(put(i, { value }))}
            onCommit={(value) => onCommit(put(i, { value }))}
          />
          <ActionIcon
            variant="subtle"
            color="gray"
            size="sm"
            aria-label={`Delete row ${i + 1}`}
            disabled={table.points.length < 3}
            onClick={() => onCommit({ ...table, points: table.points.filter((_, k) => k !== i) })}
          >
            ×
          </ActionIcon>
        </div>
      ))}
      <div className={clsx(styles.lawRow, styles.lawFoot)}>
        {onlySmooth ? (
          <span />
        ) : (
          <Checkbox
            size="xs"
            label="Smooth"
            checked={table.smooth}
            onChange={(e) => onCommit({ ...table, smooth: e.currentTarget.checked })}
          />
        )}
        <Button size="compact-xs" variant="default" onClick={() => onCommit(after())}>
          Add a row
        </Button>
      </div>
    </div>
  );
}

function Bare({
  label,
  value,
  onPreview,
  onCommit,
}: {
  label: string;
  value: Expression;
  onPreview: (v: Expression) => void;
  onCommit: (v: Expression) => void;
}) {
  return (
    <ExpressionField
      bare
      label={label}
      unit=""
      value={value}
      onPreview={(v) => onPreview(v ?? 0)}
      onCommit={(v) => onCommit(v ?? 0)}
    />
  );
}

export const round = (v: number) => Number(v.toPrecision(4));
