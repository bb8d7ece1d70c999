/** How many there are, and how much of them. */
import clsx from "clsx";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { usePart } from "../../state/part";
import { volume } from "../../ui/format";
import table from "../../ui/table.module.css";

export function ArrangedFoot({ built }: { built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const { count, volume: made } = built?.data ?? {};
  if (count === undefined) return null;
  return (
    <Card title="Copies">
      <table className={clsx(table.numbers, "figures")} aria-label="Copies">
        <tbody>
          <Row name="Bodies in all" value={`${count}`} />
          {made !== undefined && <Row name="Copied volume" value={volume(made, units)} />}
        </tbody>
      </table>
    </Card>
  );
}
