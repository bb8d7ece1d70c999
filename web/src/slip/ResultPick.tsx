/** What a result does with the bodies before it. */
import { SegmentedControl } from "@mantine/core";
import type { SweepStep } from "../api/types";

type Result = SweepStep["result"];

const RESULTS: { value: Result; label: string }[] = [
  { value: "separate", label: "Separate" }, { value: "add", label: "Add" }, { value: "cut", label: "Cut" }, { value: "common", label: "Common" },
];

export function ResultPick({ value, onPick }: { value: Result; onPick: (result: Result) => void }) {
  return <SegmentedControl aria-label="Result" data={RESULTS} value={value} onChange={(v) => onPick(v as Result)} />;
}
