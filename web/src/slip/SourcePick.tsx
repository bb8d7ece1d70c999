/** A step before this one that gives what is needed. */
import { Select } from "@mantine/core";
import type { Step } from "../api/types";
import { kindsThatGive } from "../state/fields";
import { stepsBefore, usePart } from "../state/part";
import { useView } from "../state/view";

interface Props {
  label: string;
  value: string;
  kinds?: Step["kind"][];
  onPick: (id: string) => void;
}

export function SourcePick({ label, value, kinds = kindsThatGive("drawing"), onPick }: Props) {
  const part = usePart((s) => s.document)!;
  const self = useView((s) => s.selected);
  const before = stepsBefore(part, self);
  const options = before.filter((s) => kinds.includes(s.kind)).map((s) => ({ value: s.id, label: s.name }));
  const known = options.some((o) => o.value === value);
  const gone = value === "" ? [] : [{ value, label: `${value} (gone)` }];
  return (
    <Select
      aria-label={label}
      data={known ? options : [...gone, ...options]}
      value={value || null}
      placeholder={label}
      onChange={(id) => id !== null && onPick(id)}
      error={known ? undefined : "Pick one"}
    />
  );
}
