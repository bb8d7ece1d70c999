/** What a result does with the bodies before it. */
import { SegmentedControl } from "@mantine/core";
import type { ResultMode } from "../api/types";

const RESULTS: { value: ResultMode; label: string }[] = [
  { value: "separate", label: "Separate" },
  { value: "add", label: "Add" },
  { value: "cut", label: "Cut" },
  { value: "common", label: "Common" },
];

export function ResultPick({ value, onPick }: { value: ResultMode; onPick: (result: ResultMode) => void }) {
  return <SegmentedControl aria-label="ResultMode" data={RESULTS} value={value} onChange={(v) => onPick(v)} />;
}
