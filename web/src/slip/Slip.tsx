/** The selected step: its inputs in the order in which one decides them, then results and checks. */
import type { StepReport, Units, Vec3 } from "../api/types";
import { isDrawn } from "../state/drawings";
import { isOwnPath } from "../state/paths";
import { isCurrent, reportOf, stepOf, usePart } from "../state/part";
import { useView } from "../state/view";
import { area, length, mass, trim, volume } from "../ui/format";
import { isOf } from "./draft";
import { FormatButtons } from "./FormatButtons";
import { PartSlip } from "./PartSlip";
import { GoOn } from "./GoOn";
import { PathFoot } from "./PathFoot";
import { Row } from "./Row";
import { StepMessage } from "./StepMessage";
import { SheetFoot } from "../sheets/SheetFoot";
import { roomOf } from "../kinds/rooms";
import { PlainCards } from "./PlainCards";
import { StockCard } from "./StockCard";
import clsx from "clsx";
import { BoundTo } from "./StepField";
import styles from "./Slip.module.css";
import table from "../ui/table.module.css";

export function Slip() {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const selected = useView((s) => s.selected);
  const preview = useView((s) => s.preview);
  const current = usePart(isCurrent);
  const step = stepOf(part, selected);
  if (part === null) return null;
  if (step === undefined)
    return (
      <aside className={styles.slip} data-testid="slip" aria-label="The part">
        <PartSlip />
      </aside>
    );
  const built = reportOf(result, step.id);
  const room = roomOf(step.kind);
  const Cards = room?.Cards ?? PlainCards;
  const previewed = preview?.step === step.id ? preview : null;
  const report = previewed?.report ?? built;
  const asItIs = previewed === null ? current : isOf(previewed, step);
  return (
    <aside className={styles.slip} data-testid="slip" aria-label={`Inputs of ${step.name}`}>
      <header className={styles.slipHead}>
        <h2>{step.name}</h2>
        <span className="soft">{room?.words ?? step.kind}</span>
      </header>
      {(report?.messages ?? []).map((m, i) => (
        <StepMessage key={i} step={step.id} message={m} asItIs={asItIs} />
      ))}
      <BoundTo key={step.id} step={step}>
        <Cards step={step} report={built} />
      </BoundTo>
      {room?.stock !== undefined && <StockCard key={`${step.id}/stock`} step={step} stock={room.stock} />}
      {(isDrawn(step) || isOwnPath(step)) && built?.state === "fresh" && <GoOn />}
      <PathFoot report={report} />
      <SheetFoot step={step.id} report={built} />
      {room?.Foot !== undefined && <room.Foot report={report} built={built} />}
      <Foot report={report} checks={built} />
    </aside>
  );
}

function Foot({ report, checks }: { report: StepReport | undefined; checks: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const id = usePart((s) => s.id);
  const density = usePart((s) => s.result?.density ?? null);
  const data = report?.data;
  const numbers = data?.numbers;
  return (
    <footer className={table.foot}>
      {numbers && data?.section && (
        <table className={clsx(table.numbers, "figures")}>
          <tbody>
            <Row name="Length" value={length(numbers.length, units, 6)} />
            {data.section.area > 0 && <Row name="Section" value={area(data.section.area, units)} />}
            {numbers.volume > 0 && <Row name="Volume" value={volume(numbers.volume, units)} />}
            {density !== null && numbers.volume > 0 && <Row name="Mass" value={mass(numbers.volume, density, units)} />}
            <Row name="Surface" value={area(numbers.area, units)} />
            {varies(numbers.ends) && (
              <Row name="End faces" value={`${area(numbers.ends[0], units)}, ${area(numbers.ends[1], units)}`} />
            )}
            <Row
              name="Tightest bend"
              value={numbers.tightest === null ? "straight" : length(numbers.tightest, units)}
            />
            <Row name="Centre" value={place(numbers.centre, units)} />
            {checks?.data.checks && checks.state === "fresh" && (
              <Row
                name="Solid"
                value={`${checks.data.checks.valid ? "valid" : "not valid"}, ${checks.data.faces} faces`}
              />
            )}
          </tbody>
        </table>
      )}
      {checks?.state === "fresh" && data?.result && (
        <table className={clsx(table.numbers, "figures")} aria-label="After combining">
          <caption>
            {data.result.solids === 1 ? "The body after it" : `The ${data.result.solids} bodies after it`}
          </caption>
          <tbody>
            <Row name="Volume" value={volume(data.result.volume, units)} />
            {density !== null && <Row name="Mass" value={mass(data.result.volume, density, units)} />}
            <Row name="Surface" value={area(data.result.area, units)} />
            <Row name="Centre" value={place(data.result.centre, units)} />
            <Row name="Solid" value={`valid, ${data.result.faces} faces`} />
          </tbody>
        </table>
      )}
      {numbers && id !== null && checks?.state === "fresh" && (
        <div className={table.downloads} aria-label="Save the result">
          <span className="soft">Save the part as</span>
          <FormatButtons part={id} />
        </div>
      )}
    </footer>
  );
}

const place = (at: Vec3, units: Units): string =>
  at.map((c) => trim(Number((units === "in" ? c / 25.4 : c).toFixed(3)))).join(", ");

/** Whether the section does not end as it began. */
function varies(ends: [number, number]): boolean {
  return Math.abs(ends[0] - ends[1]) > 1e-6 * Math.max(ends[0], ends[1]);
}
