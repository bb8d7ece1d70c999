/** The cord itself, and the threads from each step to what it uses. */
import type { Part } from "../api/types";
import { ROLE_COLOUR, threads } from "../state/roles";
import { useView } from "../state/view";
import { ROW } from "./rows";
import styles from "./Cord.module.css";

export function Threads({ part, places, rows }: { part: Part; places: Map<string, number>; rows: number }) {
  const selected = useView((s) => s.selected);
  const y = (id: string) => places.get(id)! * ROW + ROW / 2;
  return (
    <svg className={styles.threads} width="56" height={(rows + 1) * ROW} aria-hidden="true">
      <path d={`M44 0V${(rows + 0.5) * ROW}`} stroke="var(--brass)" strokeWidth="2.5" />
      {threads(part).map(({ from, to, role }, i) => {
        const span = Math.abs(places.get(from)! - places.get(to)!);
        if (span === 0) return null; // both are folded away
        const reach = 40 - Math.min(34, 7 + span * 7);
        const lit = selected === from || selected === to;
        const a = y(from) - (role === "path" ? 5 : 1);
        const b = y(to) + 4;
        return (
          <path
            key={i}
            d={`M42 ${a}C${reach} ${a} ${reach} ${b} 42 ${b}`}
            fill="none"
            stroke={ROLE_COLOUR[role]}
            strokeWidth={lit ? 2.2 : 1.2}
            opacity={selected === null || lit ? 0.95 : 0.35}
            strokeDasharray={role === "plane" ? "3 3" : undefined}
          />
        );
      })}
    </svg>
  );
}
