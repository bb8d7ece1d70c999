/** A step's sizes from a row of the shelf: named values follow the row, and the step takes them. */
import { Button } from "@mantine/core";
import { useState } from "react";
import type { NamedValue, Part, Shelf, Step, StepReport, StockRow } from "../api/types";
import type { Room } from "../kinds/room";
import { usePart, withStep } from "../state/part";
import { inUnits } from "../ui/format";
import { Card } from "./Card";
import { StockPicker } from "./StockPicker";

interface Props {
  step: Step;
  stock: NonNullable<Room["stock"]>;
}

const nameOf = (step: string, size: string) => `${step}_${size}`;

/**
 * The value that follows a row for a step's size: the one that was made for it, or that it alone uses, as it may have been
 * renamed.
 */
function followedBy(
  values: NamedValue[],
  step: string,
  reports: Record<string, StepReport> | undefined,
  size: string,
): NamedValue | undefined {
  const alone = (name: string) => {
    const users = Object.values(reports ?? {}).filter((r) => r.values.includes(name));
    return users.length === 1 && users[0]!.id === step;
  };
  const following = values.filter((v) => v.row?.size === size);
  return following.find((v) => v.name === nameOf(step, size)) ?? following.find((v) => alone(v.name));
}

export function StockCard({ step, stock }: Props) {
  const values = usePart((s) => s.document!.values);
  const reports = usePart((s) => s.result?.steps);
  const [open, setOpen] = useState(false);
  if (stock.fits !== undefined && !stock.fits(step)) return null;
  const followed = followedBy(values, step.id, reports, stock.sizes[0]!);
  const take = (shelf: Shelf, row: StockRow) => {
    setOpen(false);
    const names = Object.fromEntries(
      stock.sizes
        .filter((size) => typeof row.cells[size] === "number")
        .map((size) => [size, followedBy(values, step.id, reports, size)?.name ?? nameOf(step.id, size)]),
    );
    void usePart
      .getState()
      .change(`Take ${row.name} from the shelf`.slice(0, 80), (p) =>
        withStep(
          { ...p, values: following(p, shelf, row, names) },
          step.id,
          (s) => ({ ...s, ...stock.take(s, names) }) as Step,
        ),
      );
  };
  return (
    <Card title="From the shelf">
      {followed && <p className="figures">{followed.note.split(":")[0]}</p>}
      <Button size="compact-xs" variant="default" onClick={() => setOpen(true)}>
        {followed ? "Take another" : "Take it from the shelf"}
      </Button>
      <StockPicker sort={stock.sort} opened={open} onClose={() => setOpen(false)} onPick={take} />
    </Card>
  );
}

/** A part's values with those that follow a row, by the names for its sizes. */
export function following(part: Part, shelf: Shelf, row: StockRow, names: Record<string, string>): NamedValue[] {
  const made = Object.entries(names).map(([size, name]): NamedValue => {
    const column = shelf.columns.find((c) => c.name === size)!;
    const cell = row.cells[size] as number;
    const value = column.unit === "mm" ? Number(inUnits(cell, part.units).toPrecision(9)) : cell;
    return { name, value, note: `${row.name}: ${column.title}`, row: { shelf: shelf.id, row: row.id, size } };
  });
  const own = new Set(made.map((v) => v.name));
  return [...part.values.filter((v) => !own.has(v.name)), ...made];
}
