/** The part's steps on a cord, with threads to what each uses, and the sinker at its end. */
import { useMemo } from "react";
import type { Step, StepReport } from "../api/types";
import { usePart } from "../state/part";
import { openLocker } from "../ui/openLocker";
import { GroupMark } from "./GroupMark";
import { Mark, type MarkState } from "./Mark";
import { rowByStep, ROW, rowsOf } from "./rows";
import { Sinker } from "./Sinker";
import { Threads } from "./Threads";
import { useCarry } from "./useCarry";
import styles from "./Cord.module.css";

function shownState(
  step: Step,
  report: StepReport | undefined,
  live: string | undefined,
  building: boolean,
): MarkState {
  if (step.off) return "off";
  if (building && live === "building") return "building";
  if (report === undefined || report.state === "stopped") return "waiting";
  return report.state;
}

export function Cord() {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const live = usePart((s) => s.live);
  const building = usePart((s) => s.buildState === "building");
  const rows = useMemo(() => (part === null ? [] : rowsOf(part)), [part]);
  const places = useMemo(() => (part === null ? new Map<string, number>() : rowByStep(part, rows)), [part, rows]);
  const carry = useCarry(part, rows);
  if (part === null) return null;
  return (
    <nav className={styles.cord} aria-label="Steps of the part">
      <div className={styles.cordScroll}>
        <div className={styles.cordBody} style={{ height: (rows.length + 1) * ROW }}>
          <Threads part={part} places={places} rows={rows.length} />
          {rows.map((row, i) =>
            row.step === undefined ? (
              <GroupMark key={row.group.id} part={part} group={row.group} row={i} />
            ) : (
              <Mark
                key={row.step.id}
                part={part}
                step={row.step}
                row={i}
                inGroup={row.group !== undefined}
                report={result?.steps[row.step.id]}
                state={shownState(row.step, result?.steps[row.step.id], live[row.step.id], building)}
                carry={carry}
              />
            ),
          )}
          {carry.carried !== null && (
            <div className={styles.carried} style={{ top: carry.carried.row * ROW }} role="status">
              {carry.carried.reason}
            </div>
          )}
          <Sinker part={part} places={places} rows={rows.length} />
        </div>
      </div>
      <button type="button" className={styles.cordAdd} onClick={openLocker}>
        <span aria-hidden="true">+</span> Add a step <kbd>A</kbd>
      </button>
    </nav>
  );
}
