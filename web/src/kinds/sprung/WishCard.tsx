/** Springs that do what is wished: two forces at two lengths, in the room that there is; one of those found is taken. */
import { Button } from "@mantine/core";
import clsx from "clsx";
import type { Units } from "../../api/types";
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

const FIELDS = [
  ["force_1", "First force", "N"],
  ["length_1", "at a length of", ""],
  ["force_2", "Second force", "N"],
  ["length_2", "at a length of", ""],
  ["share", "Of the stress it bears", "of 1"],
] as const;

export function WishCard({ step, draft, units }: Props) {
  const { wish } = step;
  const search = useAsk<Design[]>(step.id, "designs");
  const found = search.data;
  const pulled = step.duty === "extension";
  const begin = () => {
    const size = (mm: number) => Number(inUnits(mm, units).toPrecision(4));
    const [forces, lengths] = pulled
      ? [
          [20, 60],
          [60, 80],
        ]
      : [
          [40, 100],
          [36, 28],
        ];
    const first = {
      force_1: forces[0]!,
      length_1: size(lengths[0]!),
      force_2: forces[1]!,
      length_2: size(lengths[1]!),
      share: 0.8,
    };
    draft.commit("Design to a wish", { wish: first });
  };
  const take = (d: Design) => {
    const off = step.measured === "outer" ? d.wire : step.measured === "inner" ? -d.wire : 0;
    const size = (mm: number) => Number(inUnits(mm, units).toPrecision(7));
    draft.commit("Take a design", {
      wire: size(d.wire),
      diameter: size(d.diameter + off),
      ...EVEN,
      turns: d.turns,
      ...(pulled ? { initial: Number(d.initial.toPrecision(6)) } : { free: size(d.free) }),
      loads: [wish!.length_1, wish!.length_2].map((length, i) => ({
        id: `load${i + 1}`,
        by: "length" as const,
        length,
      })),
      shown_under: null,
    });
  };
  if (wish === null || wish === undefined)
    return (
      <Card title="Wish">
        <Button size="compact-xs" variant="default" onClick={begin}>
          Design to a wish
        </Button>
      </Card>
    );
  return (
    <Card title="Wish">
      {FIELDS.map(([name, label, unit]) => (
        <ExpressionField
          key={name}
          label={label}
          unit={name.startsWith("length") ? units : unit}
          value={wish[name]}
          onCommit={(v) => {
            search.reset();
            draft.commit("Change the wish", { wish: { ...wish, [name]: v ?? 0 } });
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
