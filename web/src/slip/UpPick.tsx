/** A direction: an axis, or square to a plane. By default which way is up. */
import { Select } from "@mantine/core";
import type { Up } from "../api/types";
import { PlanePick } from "./PlanePick";

interface Props {
  value: Up | null;
  onPick: (up: Up) => void;
  name?: string;
  word?: string;
}

export function UpPick({ value, onPick, name = "Which way is up", word = "Up along" }: Props) {
  const axes = ["X", "Y", "Z"].map((a) => ({ value: a, label: `${word} ${a}` }));
  const up = value ?? { by: "axis" as const, axis: "Z" as const };
  return (
    <>
      <Select
        aria-label={name}
        data={[...axes, { value: "plane", label: `${word.split(" ")[0]} square to a plane` }]}
        value={up.by === "axis" ? up.axis : "plane"}
        onChange={(v) =>
          v !== null &&
          onPick(
            v === "plane" ? { by: "plane", plane: { kind: "principal", plane: "XY" } } : { by: "axis", axis: v as "X" },
          )
        }
      />
      {up.by === "plane" && (
        <PlanePick label="Plane" value={up.plane} onPick={(plane) => onPick({ by: "plane", plane })} />
      )}
    </>
  );
}
