/** The loads of a spring in rows; the one that it is shown under is marked. */
import { ActionIcon, Button, Group, Select } from "@mantine/core";
import type { Units } from "../../api/types";
import type { Draft } from "../../slip/draft";
import { ExpressionField } from "../../ui/ExpressionField";
import { freshLoad, loadOf, loadWays, valueOf, type LoadBy } from "./loadKinds";
import styles from "./Loads.module.css";
import type { Load, SprungStep } from "./step";

const MOST = 20;

export function Loads({ step, draft, units }: { step: SprungStep; draft: Draft<SprungStep>; units: Units }) {
  const ways = loadWays(step.duty);
  const put = (i: number, load: Load) => step.loads.map((l, k) => (k === i ? load : l));
  const unit = (by: LoadBy) =>
    by === "length" ? units : by === "angle" ? "°" : step.duty === "torsion" ? "N mm" : "N";
  const first = step.duty === "torsion" ? 45 : step.duty === "compression" ? step.free : 0;
  const another = () => {
    const last = step.loads.at(-1);
    const next = loadOf(freshLoad(step.loads), last?.by ?? ways[0]!.value, last === undefined ? first : valueOf(last));
    draft.commit("Add a load", { loads: [...step.loads, next] });
  };
  const remove = (i: number) =>
    draft.commit("Take a load away", {
      loads: step.loads.filter((_, k) => k !== i),
      ...(step.shown_under === step.loads[i]!.id ? { shown_under: null } : {}),
    });
  return (
    <>
      {step.loads.map((load, i) => (
        <div key={load.id} className={styles.load} role="group" aria-label={`Load ${i + 1}`}>
          <Select
            aria-label={`What load ${i + 1} gives`}
            data={ways}
            value={load.by}
            onChange={(by) =>
              by !== null &&
              by !== load.by &&
              draft.commit("Give a load otherwise", { loads: put(i, loadOf(load.id, by, by === "force" ? 10 : first)) })
            }
          />
          <ExpressionField
            bare
            label={`Load ${i + 1}`}
            unit={unit(load.by)}
            value={valueOf(load)}
            onPreview={(v) => draft.preview({ loads: put(i, loadOf(load.id, load.by, v ?? 0)) })}
            onCommit={(v) => draft.commit("Change a load", { loads: put(i, loadOf(load.id, load.by, v ?? 0)) })}
          />
          <ActionIcon
            variant="subtle"
            color="gray"
            size="sm"
            aria-label={`Take load ${i + 1} away`}
            onClick={() => remove(i)}
          >
            ×
          </ActionIcon>
        </div>
      ))}
      <Group gap={6}>
        <Button size="compact-xs" variant="default" disabled={step.loads.length >= MOST} onClick={another}>
          Another load
        </Button>
      </Group>
      {step.loads.length > 0 && (
        <Select
          aria-label="Shown"
          data={[
            { value: "", label: "Shown free" },
            ...step.loads.map((l, i) => ({ value: l.id, label: `Shown under load ${i + 1}` })),
          ]}
          value={step.shown_under ?? ""}
          onChange={(v) =>
            v !== null && draft.commit("Show the spring otherwise", { shown_under: v === "" ? null : v })
          }
        />
      )}
    </>
  );
}
