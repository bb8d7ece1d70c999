/** How much was added or taken away. */
import clsx from "clsx";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { usePart } from "../../state/part";
import { volume } from "../../ui/format";
import table from "../../ui/table.module.css";

export function EmbossedFoot({ built }: { built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const own = built?.data.volume;
  if (own === undefined) return null;
  return (
    <Card title="Area">
      <table className={clsx(table.numbers, "figures")} aria-label="Area">
        <tbody>
          <Row name="Its volume" value={volume(own, units)} />
        </tbody>
      </table>
    </Card>
  );
}
