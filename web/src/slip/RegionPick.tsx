/** The closed regions of a profile, to be taken or left out; islands are regions of their own. */
import { useId } from "react";
import type { RegionData, Vec2 } from "../api/types";
import { usePart } from "../state/part";
import { area } from "../ui/format";
import styles from "./RegionPick.module.css";

const SIZE = 200;

interface Props {
  profile: string;
  /** Null takes what is material: outlines with their islands left out. */
  value: string[] | null;
  onPick: (regions: string[] | null) => void;
}

export function RegionPick({ profile, value, onPick }: Props) {
  const regions = usePart((s) => s.result?.steps[profile]?.data.regions);
  const units = usePart((s) => s.document?.units ?? "mm");
  const hatch = useId();
  if (regions === undefined || regions.length < 2) return null;
  const taken = new Set(value ?? regions.filter((r) => r.material).map((r) => r.id));
  const toggle = (id: string) => {
    const next = regions.map((r) => r.id).filter((r) => (r === id ? !taken.has(r) : taken.has(r)));
    const usual = regions.every((r) => r.material === next.includes(r.id));
    if (next.length > 0) onPick(usual ? null : next);
  };
  const { place, height } = framed(regions);
  return (
    <div className={styles.regionPick}>
      <svg viewBox={`0 0 ${SIZE} ${height}`} role="group" aria-label="Regions of the profile">
        <defs>
          <pattern id={hatch} width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0v5" stroke="var(--sea)" strokeWidth="1.6" />
          </pattern>
        </defs>
        {regions.map((r) => (
          <path
            key={r.id}
            d={r.loops.map((l) => `M${l.map((p) => place(p).join(",")).join("L")}Z`).join("")}
            fillRule="evenodd"
            fill={taken.has(r.id) ? `url(#${hatch})` : "var(--paper)"}
            stroke="var(--sea)"
            role="checkbox"
            aria-checked={taken.has(r.id)}
            tabIndex={0}
            aria-label={`Region ${r.id}, ${area(r.area, units)}`}
            onClick={() => toggle(r.id)}
            onKeyDown={(e) => {
              if (e.key === " " || e.key === "Enter") {
                e.preventDefault();
                toggle(r.id);
              }
            }}
          >
            <title>{`${taken.has(r.id) ? "Taken" : "Left out"}: ${area(r.area, units)}`}</title>
          </path>
        ))}
      </svg>
      <p className="soft">Click a region to take it or leave it out.</p>
    </div>
  );
}

/** A picture of the outlines that fits the card. */
function framed(regions: RegionData[]): { place: (p: Vec2) => Vec2; height: number } {
  const all = regions.flatMap((r) => r.loops.flat());
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])];
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((SIZE - 8) / Math.max(x1 - x0, 1e-9), 110 / Math.max(y1 - y0, 1e-9));
  const left = (SIZE - (x1 - x0) * scale) / 2;
  return { place: ([x, y]) => [left + (x - x0) * scale, 4 + (y1 - y) * scale], height: 8 + (y1 - y0) * scale };
}
