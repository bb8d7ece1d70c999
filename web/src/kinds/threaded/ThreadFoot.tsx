/** What the thread has become. */
import clsx from "clsx";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { usePart } from "../../state/part";
import { length, trim } from "../../ui/format";
import table from "../../ui/table.module.css";

export function ThreadFoot({ built }: { built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const thread = built?.data.thread;
  if (thread === undefined) return null;
  return (
    <Card title={thread.title}>
      <table className={clsx(table.numbers, "figures")} aria-label="Thread">
        <tbody>
          <Row name="On" value={thread.side === "outside" ? "a bar" : "in a hole"} />
          <Row name="Major diameter" value={length(thread.major, units, 5)} />
          <Row name="Pitch diameter" value={length(thread.pitch_diameter, units, 5)} />
          <Row name="Minor diameter" value={length(thread.minor, units, 5)} />
          <Row name="Pitch" value={length(thread.pitch, units)} />
          {thread.lead !== thread.pitch && <Row name="Lead" value={length(thread.lead, units)} />}
          {thread.clearance && (
            <Row
              name={`Clearance to ${thread.mate}`}
              value={thread.clearance.map((c) => length(c, units)).join(" to ")}
            />
          )}
          <Row name="Length" value={`${length(thread.length, units)}, ${trim(thread.turns, 3)} turns`} />
        </tbody>
      </table>
    </Card>
  );
}
