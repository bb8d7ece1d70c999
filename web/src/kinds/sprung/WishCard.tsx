/**
 * Springs that do what is wished: two forces at two lengths, in the room that there is; one of those found is taken.
 */
import { Button } from "@mantine/core";
import clsx from "clsx";
import type { Expression, Units } from "../../api/types";
import { Card } from "../../slip/Card";
import { useAsk } from "../../slip/useAsk";
import type { Draft } from "../../slip/draft";
import { inUnits, trim } from "../../ui/format";
import { ExpressionField } from "../../ui/ExpressionField";
import table from "../../ui/table.module.css";
import { EVEN, type SprungStep } from "./step";
import styles from "./WishCard.module.css";

interface Design {
  wire: number;
  diameter: number;
  turns: number;
  free: number;
  index: number;
  share: number;
  mass: number;
  initial: number;
}

interface Props {
  step: SprungStep;
  draft: Draft<SprungStep>;
  units: Units;
}

type Fields = readonly (readonly [name: string, label: string, unit: string])[];

const FIELDS: Fields = [
  ["force_1", "First force", "N"],
  ["length_1", "at a length of", "length"],
  ["force_2", "Second force", "N"],
  ["length_2", "at a length of", "length"],
  ["share", "Of the stress it bears", "of 1"],
];
const TURNED: Fields = [
  ["moment", "Moment", "N mm"],
  ["angle", "turned by", "°"],
  ["share", "Of the stress it bears", "of 1"],
];

/** What a spring of this kind is asked for at first. */
function firstWish(step: SprungStep, size: (mm: number) => number): Partial<SprungStep> {
  if (step.duty === "torsion") return { turned_wish: { moment: 400, angle: "60 deg", share: 0.8 } };
  const [f1, l1, f2, l2] = step.duty === "extension" ? [20, 60, 60, 80] : [40, 36, 100, 28];
  return { wish: { force_1: f1, length_1: size(l1), force_2: f2, length_2: size(l2), share: 0.8 } };
}

/** The loads of a wish, as the spring that is taken is judged at them. */
function wishedLoads(step: SprungStep): SprungStep["loads"] {
  if (step.duty === "torsion") return [{ id: "load1", by: "angle", angle: step.turned_wish!.angle }];
  return [step.wish!.length_1, step.wish!.length_2].map((length, i) => ({ id: `load${i + 1}`, by: "length", length }));
}

export function WishCard({ step, draft, units }: Props) {
  const turned = step.duty === "torsion";
  const wish = (turned ? step.turned_wish : step.wish) as Record<string, Expression> | null | undefined;
  const search = useAsk<Design[]>(step.id, "designs");
  const found = search.data;
  const size = (mm: number, digits = 7) => Number(inUnits(mm, units).toPrecision(digits));
  const take = (d: Design) => {
    const off = step.measured === "outer" ? d.wire : step.measured === "inner" ? -d.wire : 0;
    draft.commit("Take a design", {
      wire: size(d.wire),
      diameter: size(d.diameter + off),
      ...EVEN,
      turns: d.turns,
      ...(step.duty === "extension" ? { initial: Number(d.initial.toPrecision(6)) } : {}),
      ...(step.duty === "compression" ? { free: size(d.free) } : {}),
      loads: wishedLoads(step),
      shown_under: null,
    });
  };
  if (wish === null || wish === undefined)
    return (
      <Card title="Wish">
        <Button
          size="compact-xs"
          variant="default"
          onClick={() =>
            draft.commit(
              "Design to a wish",
              firstWish(step, (mm) => size(mm, 4)),
            )
          }
        >
          Design to a wish
        </Button>
      </Card>
    );
  return (
    <Card title="Wish">
      {(turned ? TURNED : FIELDS).map(([name, label, unit]) => (
        <ExpressionField
          key={name}
          label={label}
          unit={unit === "length" ? units : unit}
          value={wish[name]!}
          onCommit={(v) => {
            search.reset();
            draft.commit("Change the wish", { [turned ? "turned_wish" : "wish"]: { ...wish, [name]: v ?? 0 } });
          }}
        />
      ))}
      <Button
        size="compact-xs"
        variant="default"
        loading={search.isPending}
        disabled={search.waits}
        onClick={search.ask}
      >
        Look for springs
      </Button>
      {found !== undefined && (
        <div className={styles.found}>
          <table className={clsx(table.numbers, "figures")} aria-label="Springs that do it">
            <thead>
              <tr>
                <th scope="col">wire</th>
                <th scope="col">mean Ø</th>
                <th scope="col">turns</th>
                <th scope="col">stress</th>
                <th scope="col">g</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {found.map((d, i) => (
                <tr key={i}>
                  <td>{trim(inUnits(d.wire, units), 3)}</td>
                  <td>{trim(inUnits(d.diameter, units), 4)}</td>
                  <td>{trim(d.turns, 3)}</td>
                  <td>{trim(100 * d.share, 2)} %</td>
                  <td>{trim(d.mass, 3)}</td>
                  <td>
                    <Button size="compact-xs" variant="subtle" onClick={() => take(d)}>
                      Take
                    </Button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Card>
  );
}
