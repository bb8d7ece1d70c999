/** A plane among the principal ones and those of the steps before. */
import { Select } from "@mantine/core";
import type { SketchStep } from "../api/types";
import { usePart } from "../state/part";
import { useView } from "../state/view";

type PlaneRef = SketchStep["plane"];

const PRINCIPAL = [
  { value: "XY", label: "XY, seen from the top" }, { value: "XZ", label: "XZ, seen from the front" }, { value: "YZ", label: "YZ, seen from the right" },
];

export function PlanePick({ label, value, onPick }: { label: string; value: PlaneRef; onPick: (plane: PlaneRef) => void }) {
  const part = usePart((s) => s.document)!;
  const self = useView((s) => s.selected);
  const before = part.steps.slice(0, part.steps.findIndex((s) => s.id === self));
  const options = [...PRINCIPAL, ...before.filter((s) => s.kind === "plane" || s.kind === "datum").map((s) => ({ value: s.id, label: s.name }))];
  const current = value.kind === "principal" ? value.plane : value.step;
  const known = options.some((o) => o.value === current);
  return (
    <Select aria-label={label} data={known ? options : [{ value: current, label: `${current} (gone)` }, ...options]} value={current}
      error={known ? undefined : "Pick another"} onChange={(v) => {
        if (v === null) return;
        onPick(v === "XY" || v === "XZ" || v === "YZ" ? { kind: "principal", plane: v } : { kind: "step", step: v });
      }} />
  );
}
