/** Which way round a coil or a thread goes. */
import { SegmentedControl } from "@mantine/core";

export type Hand = "right" | "left";

const HANDS = [
  { value: "right", label: "Right-handed" },
  { value: "left", label: "Left-handed" },
];

export function HandPick({ value, onPick }: { value: Hand; onPick: (hand: Hand) => void }) {
  return <SegmentedControl aria-label="Hand" data={HANDS} value={value} onChange={(hand) => onPick(hand as Hand)} />;
}
