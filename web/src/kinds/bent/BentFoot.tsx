/**
 * The program in short: hover a row, and the bend is shown in the stage; where the path is a route of corners, its
 * numbers can be changed.
 */
import clsx from "clsx";
import { api } from "../../api/client";
import type { Part, Step, StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import { Row } from "../../slip/Row";
import { pathOf } from "../../state/bodies";
import { stepOf, usePart, whenSaved } from "../../state/part";
import { useView } from "../../state/view";
import { Cell } from "../../ui/Cell";
import { parseExpression } from "../../ui/ExpressionField";
import { inUnits, length, trim } from "../../ui/format";
import table from "../../ui/table.module.css";
import type { BentStep } from "./step";

type Bent = NonNullable<StepReport["data"]["bent"]>;
type Size = "feed" | "turn" | "angle" | "radius";
type Corners = Extract<Step, { points: unknown; least_straight: unknown }>;

const isCorners = (step: Step | undefined): step is Corners =>
  step !== undefined &&
  "least_straight" in step &&
  step.shape === "bends" &&
  !step.closed &&
  step.points.every((p) => p.at.by === "place");

/** The route of corners that a tube runs along, with as many corners as it has bends. */
function routeOf(part: Part | null, id: string | undefined, bends: number): Corners | null {
  const step = stepOf(part, id ?? null) as BentStep | undefined;
  const tube = stepOf(part, step?.tube ?? null);
  const route = stepOf(part, tube === undefined ? null : (pathOf(tube) ?? null));
  return isCorners(route) && route.points.length === bends + 2 ? route : null;
}

export function BentFoot({ report, built }: { report: StepReport | undefined; built: StepReport | undefined }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const part = usePart((s) => s.document);
  const shown = report ?? built;
  const bent = shown?.data.bent;
  if (shown === undefined || bent === undefined) return null;
  const show = (station: number | null) => useView.getState().set({ station });
  const route = routeOf(part, shown.id, bent.rows.length);
  return (
    <Card title="Program">
      <table className={clsx(table.numbers, "figures")} aria-label="Bends" onMouseLeave={() => show(null)}>
        <thead>
          <tr>
            <th scope="col">Bend</th>
            <th scope="col">feed</th>
            <th scope="col">turn</th>
            <th scope="col">angle</th>
            <th scope="col">radius</th>
          </tr>
        </thead>
        <tbody>
          {bent.rows.map((row, i) => (
            <tr key={i} onMouseEnter={() => show((row.start + row.end) / 2)}>
              <th scope="row">{i + 1}</th>
              {(["feed", "turn", "angle", "radius"] as const).map((size) => (
                <td key={size}>
                  <RowNumber bent={bent} step={shown.id} row={i} size={size} route={route} />
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th scope="row">after</th>
            <td>
              <RowNumber bent={bent} step={shown.id} row={bent.rows.length} size="feed" route={route} />
            </td>
          </tr>
        </tbody>
      </table>
      <table className={clsx(table.numbers, "figures")} aria-label="Program">
        <thead>
          <tr>
            <th scope="col">The machine</th>
            <th scope="col">feeds</th>
            <th scope="col">turns</th>
            <th scope="col">bends by</th>
          </tr>
        </thead>
        <tbody>
          {bent.rows.map((row, i) => (
            <tr key={i}>
              <th scope="row">{i + 1}</th>
              <td>{length(row.fed, units)}</td>
              <td>{trim(row.turned, 4)}°</td>
              <td>{trim(row.made, 4)}°</td>
            </tr>
          ))}
        </tbody>
      </table>
      <table className={clsx(table.numbers, "figures")} aria-label="Tube">
        <tbody>
          <Row name="Cut length" value={length(bent.cut, units, 6)} />
          {bent.tooling !== "" && <Row name="Tool has to have" value={bent.tooling} />}
          {bent.bars.length > 0 && <Row name="Bars of stock" value={String(bent.bars.length)} />}
          {bent.bars.length > 0 && <Row name="Left over" value={length(bent.waste, units)} />}
        </tbody>
      </table>
    </Card>
  );
}

interface NumberProps {
  bent: Bent;
  step: string;
  row: number;
  size: Size;
  route: Corners | null;
}

const isAngle = (size: Size) => size === "turn" || size === "angle";

/** Each is made on what the one before has come to. */
let edits: Promise<void> = Promise.resolve();

/** A number of a row; of a route it can be written over, and its corners follow. */
function RowNumber({ bent, step, row, size, route }: NumberProps) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const value = row < bent.rows.length ? bent.rows[row]![size] : bent.last;
  const text = isAngle(size) ? trim(value, 5) : trim(inUnits(value, units), 5);
  if (route === null || (size === "turn" && row === 0)) return <>{isAngle(size) ? `${text}°` : text}</>;
  const flipped = (stepOf(usePart.getState().document, step) as BentStep).flipped;
  const keep = (typed: string) => {
    const next = parseExpression(typed, false);
    const { id, meanwhile } = usePart.getState();
    if (next === undefined || next === null || id === null) return;
    const label = `Change the ${size} of ${row < bent.rows.length ? `bend ${row + 1}` : "the end"}`;
    const ask = () => api.ask<{ corners: number[][]; radii: number[] }>(id, step, "edited", { row, size, value: next });
    const work = () =>
      meanwhile(whenSaved().then(ask), ({ corners, radii }) => {
        const changed = flipped ? radii.length - 1 - row : row;
        const written = radii.map((r, i) => (size === "radius" && i === changed ? r : null));
        void usePart.getState().change(label, (p) => withCorners(p, route.id, corners, written));
      });
    const before = edits;
    edits = new Promise((done) => void before.then(work).finally(done)); // also when it fails the next one has its turn
  };
  return (
    <Cell label={`${size} of ${row < bent.rows.length ? `bend ${row + 1}` : "the end"}`} value={text} onKeep={keep} />
  );
}

/**
 * The part with a route through other corners; `radii` are given where one of them is another, and the others keep what
 * they are written as.
 */
function withCorners(part: Part, route: string, corners: number[][], radii: (number | null)[]): Part {
  return {
    ...part,
    steps: part.steps.map((s) => {
      if (s.id !== route || !isCorners(s)) return s;
      const points = s.points.map((p, i) => {
        const [x, y, z] = corners[i]! as [number, number, number];
        return { ...p, at: { ...p.at, by: "place" as const, x, y, z }, radius: radii[i - 1] ?? p.radius };
      });
      return { ...s, points };
    }),
  };
}
