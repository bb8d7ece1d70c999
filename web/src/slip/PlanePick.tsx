/** A plane among the principal ones and those of the steps before. */
import { Select } from "@mantine/core";
import type { PlaneRef } from "../api/types";
import { givesOf } from "../state/fields";
import { stepsBefore, usePart } from "../state/part";
import { useView } from "../state/view";
import fields from "../ui/fields.module.css";

const PRINCIPAL = [
  { value: "XY", label: "XY, seen from the top" },
  { value: "XZ", label: "XZ, seen from the front" },
  { value: "YZ", label: "YZ, seen from the right" },
];

interface Props {
  label: string;
  value: PlaneRef | null;
  /** What no plane is called, where there need not be one. */
  none?: string;
  onPick: (plane: PlaneRef) => void;
  onNone?: () => void;
}

export function PlanePick({ label, value, none, onPick, onNone }: Props) {
  const part = usePart((s) => s.document)!;
  const self = useView((s) => s.selected);
  const before = stepsBefore(part, self);
  const options = [
    ...(none === undefined ? [] : [{ value: "", label: none }]),
    ...PRINCIPAL,
    ...before.filter((s) => givesOf(s) === "plane").map((s) => ({ value: s.id, label: s.name })),
  ];
  const current = value === null ? "" : value.kind === "principal" ? value.plane : value.step;
  const known = options.some((o) => o.value === current);
  return (
    <Select
      aria-label={none === undefined ? label : undefined}
      label={none === undefined ? undefined : label}
      className={none === undefined ? undefined : fields.expression}
      data={known ? options : [{ value: current, label: `${current} (gone)` }, ...options]}
      value={current}
      error={known ? undefined : "Pick another"}
      onChange={(v) => {
        if (v === null) return;
        if (v === "") return onNone?.();
        onPick(v === "XY" || v === "XZ" || v === "YZ" ? { kind: "principal", plane: v } : { kind: "step", step: v });
      }}
    />
  );
}
