/** What came in from the file. */
import clsx from "clsx";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { usePart } from "../../state/part";
import { volume } from "../../ui/format";
import table from "../../ui/table.module.css";

const SHOWN = 12;

export function ImportedFoot({ built }: { built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const { bodies, count, unit, triangles, open } = built?.data ?? {};
  if (bodies === undefined || count === undefined) return null;
  const mesh = triangles !== undefined;
  return (
    <Card title="What came in">
      <table className={clsx(table.numbers, "figures")} aria-label="What came in">
        <tbody>
          <Row name="Bodies" value={`${count}`} />
          <Row name="Unit of the file" value={unit ?? ""} />
          {mesh && <Row name="Triangles" value={triangles.toLocaleString("en")} />}
          {mesh && open !== undefined && open > 0 && <Row name="Open edges" value={open.toLocaleString("en")} />}
          {(mesh && open !== 0 ? [] : bodies).slice(0, SHOWN).map((b, i) => (
            <Row key={i} name={b.name} value={`${volume(b.volume, units)}${b.healed ? ", mended" : ""}`} />
          ))}
          {count > SHOWN && <Row name={`and ${count - SHOWN} more`} value="" />}
        </tbody>
      </table>
    </Card>
  );
}
