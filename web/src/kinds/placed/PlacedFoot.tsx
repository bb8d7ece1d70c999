/** How many bodies came with the part, and how much of them. */
import clsx from "clsx";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { usePart } from "../../state/part";
import { volume } from "../../ui/format";
import table from "../../ui/table.module.css";

export function PlacedFoot({ built }: { built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const { count, result } = built?.data ?? {};
  if (count === undefined || result === undefined) return null;
  return (
    <Card title="Came with it">
      <table className={clsx(table.numbers, "figures")} aria-label="Came with it">
        <tbody>
          <Row name="Bodies" value={`${count}`} />
          <Row name="Volume" value={volume(result.volume, units)} />
        </tbody>
      </table>
    </Card>
  );
}
