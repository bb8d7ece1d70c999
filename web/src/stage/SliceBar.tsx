/** Moves the cutting plane, turns it round, takes it away. */
import { ActionIcon, Group, Select, Slider } from "@mantine/core";
import { usePart } from "../state/part";
import { useView, type Slice } from "../state/view";
import { length } from "../ui/format";
import { sliceRange } from "./slicing";
import styles from "./SliceBar.module.css";

const PLANES = [
  { value: "station", label: "Section's plane" },
  { value: "X", label: "Square to X" },
  { value: "Y", label: "Square to Y" },
  { value: "Z", label: "Square to Z" },
];

export function SliceBar() {
  const slice = useView((s) => s.slice);
  const station = useView((s) => s.station);
  const units = usePart((s) => s.document?.units ?? "mm");
  if (slice === null) return null;
  const put = (patch: Partial<Slice>) => useView.getState().set({ slice: { ...slice, ...patch } });
  const [low, high] = slice.by === "station" ? [0, 1] : sliceRange(slice.by);
  const choose = (by: string | null) => {
    if (by === null) return;
    const range = by === "station" ? [0, 0] : sliceRange(by as "X");
    put({ by: by as Slice["by"], at: Number(((range[0]! + range[1]!) / 2).toFixed(3)) });
  };
  return (
    <Group className={styles.sliceBar} gap={8} wrap="nowrap">
      <strong>Cut at</strong>
      <Select aria-label="Cutting plane" size="xs" w={132} data={PLANES} value={slice.by} onChange={choose} />
      {slice.by === "station" ? (
        <span className="figures soft">{station === null ? "the middle" : length(station, units)}</span>
      ) : (
        <>
          <Slider
            aria-label="Place of the cut"
            w={120}
            min={low}
            max={high}
            step={(high - low) / 200}
            value={slice.at}
            label={null}
            onChange={(at) => put({ at })}
          />
          <span className="figures soft">{length(slice.at, units)}</span>
        </>
      )}
      <ActionIcon
        variant="default"
        size="sm"
        aria-label="Show the other side"
        onClick={() => put({ flipped: !slice.flipped })}
      >
        ⇄
      </ActionIcon>
      <ActionIcon
        variant="default"
        size="sm"
        aria-label="Stop cutting"
        onClick={() => useView.getState().set({ slice: null })}
      >
        ×
      </ActionIcon>
    </Group>
  );
}
