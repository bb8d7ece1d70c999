/** How thick the walls have become. */
import clsx from "clsx";
import type { StepReport } from "../api/types";
import { Card } from "./Card";
import { Row } from "./Row";
import { usePart } from "../state/part";
import { length } from "../ui/format";
import table from "../ui/table.module.css";

export function WallsFoot({ built }: { built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const walls = built?.data.walls;
  if (walls === undefined) return null;
  return (
    <Card title="Walls as they are">
      <table className={clsx(table.numbers, "figures")} aria-label="Walls">
        <tbody>
          <Row name="Thinnest wall" value={length(walls.least, units)} />
          <Row name="Thickest wall" value={length(walls.most, units)} />
        </tbody>
      </table>
    </Card>
  );
}
