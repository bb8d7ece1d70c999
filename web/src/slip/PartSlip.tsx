/** Nothing selected: the part itself, its named values and files; an empty part offers its first steps. */
import { ActionIcon, Button, Select, TextInput } from "@mantine/core";
import { useState } from "react";
import { fileUrl } from "../api/client";
import type { Part } from "../api/types";
import { startHose, startPath, startSpring, startThread, startTube } from "../kinds/starts";
import { openLocker } from "../ui/openLocker";
import { usePart } from "../state/part";
import { renameValue, usersOf } from "../state/renaming";
import { MessageLine } from "../ui/MessageLine";
import { ExpressionField, parseExpression } from "../ui/ExpressionField";
import { NameField } from "../ui/NameField";
import { Card } from "./Card";
import { FormatButtons } from "./FormatButtons";
import clsx from "clsx";
import styles from "./Slip.module.css";
import fields from "../ui/fields.module.css";
import table from "../ui/table.module.css";

const MATERIALS = [
  { value: "", label: "None" },
  { value: "steel", label: "Steel" },
  { value: "stainless", label: "Stainless steel" },
  { value: "aluminium", label: "Aluminium" },
  { value: "brass", label: "Brass" },
  { value: "copper", label: "Copper" },
  { value: "polyethylene", label: "Polyethylene" },
  { value: "pvc", label: "PVC" },
  { value: "rubber", label: "Rubber" },
];

export function PartSlip() {
  const part = usePart((s) => s.document)!;
  const id = usePart((s) => s.id)!;
  const result = usePart((s) => s.result);
  return (
    <>
      <header className={styles.slipHead}>
        <h2>{part.name}</h2>
        <span className="soft">the part</span>
      </header>
      {part.steps.length === 0 && (
        <Card title="Where to begin">
          <Button fullWidth mb={6} onClick={() => startPath("XZ")}>
            Draw a path seen from the front
          </Button>
          <Button fullWidth mb={6} variant="light" onClick={() => startPath("XY")}>
            Draw a path seen from the top
          </Button>
          <p className="soft">Any profile swept along a drawn path. Or begin with</p>
          <div className={styles.starts}>
            <Button variant="default" onClick={startTube}>
              Tube through points
            </Button>
            <Button variant="default" onClick={startHose}>
              Hose
            </Button>
            <Button variant="default" onClick={startSpring}>
              Spring
            </Button>
            <Button variant="default" onClick={startThread}>
              Thread in a rod
            </Button>
            <Button variant="default" onClick={openLocker}>
              Blank: the locker
            </Button>
          </div>
        </Card>
      )}
      <Card title="Named values">
        <Values />
      </Card>
      <Card title="Material">
        <Select
          aria-label="Material"
          data={MATERIALS}
          value={part.material ?? ""}
          onChange={(v) =>
            v !== null &&
            void usePart
              .getState()
              .change("Change material", (p) => ({ ...p, material: (v || null) as Part["material"] }))
          }
        />
      </Card>
      {(result?.messages ?? []).map((m, i) => (
        <MessageLine key={i} message={m} />
      ))}
      <footer className={table.foot}>
        <div className={table.downloads} aria-label="Save the part">
          <span className="soft">Save the part as</span>
          {(result?.bodies.length ?? 0) > 0 && <FormatButtons part={id} />}
          <Button component="a" href={fileUrl(id)} variant="default" size="compact-xs">
            part file
          </Button>
        </div>
      </footer>
    </>
  );
}

const SHOWN = 3; // steps that use a value, by name

function usedBy(steps: string[]): string {
  if (steps.length === 0) return "not used";
  const more = steps.length - SHOWN;
  return `in ${steps.slice(0, SHOWN).join(", ")}${more > 0 ? ` and ${more} more` : ""}`;
}

function Values() {
  const part = usePart((s) => s.document!);
  const reports = usePart((s) => s.result?.steps);
  const { values } = part;
  const [renaming, setRenaming] = useState<string | null>(null);
  const { change } = usePart.getState();
  const [name, setName] = useState("");
  const [value, setValue] = useState("");
  const add = () => {
    const parsed = parseExpression(value, false);
    if (!name.trim() || parsed === undefined || parsed === null) return;
    void change(`Add value ${name}`, (p) => ({
      ...p,
      values: [...p.values, { name: name.trim(), value: parsed, note: "", row: null }],
    }));
    setName("");
    setValue("");
  };
  return (
    <>
      {values.length === 0 && <p className="soft">Give a number a name, then use the name wherever a number goes.</p>}
      {values.map((v, i) => (
        <div key={v.name} className={fields.valueRow} data-testid="value" title={v.note}>
          {renaming === v.name ? (
            <NameField
              label={`Name of ${v.name}`}
              name={v.name}
              onDone={(to) => {
                setRenaming(null);
                if (to !== null) void renameValue(v.name, to);
              }}
            />
          ) : (
            <button
              type="button"
              className={clsx(fields.valueName, "figures")}
              aria-label={`Rename ${v.name}`}
              onClick={() => setRenaming(v.name)}
            >
              {v.name}
            </button>
          )}
          <ExpressionField
            label=""
            unit={v.row ? "shelf" : ""}
            value={v.value}
            onCommit={(next) =>
              void change(`Change ${v.name}`, (p) => ({
                ...p,
                values: p.values.map((w, k) => (k === i ? { ...w, value: next ?? 0, row: null } : w)),
              }))
            }
          />
          <ActionIcon
            variant="subtle"
            color="gray"
            aria-label={`Delete ${v.name}`}
            onClick={() =>
              void change(`Delete ${v.name}`, (p) => ({ ...p, values: p.values.filter((_, k) => k !== i) }))
            }
          >
            ×
          </ActionIcon>
          <p className={clsx(fields.valueUsers, "soft")}>{usedBy(usersOf(part, reports, v.name))}</p>
        </div>
      ))}
      <form
        className={fields.valueRow}
        data-testid="value"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <TextInput
          aria-label="Name of a new value"
          placeholder="name"
          value={name}
          onChange={(e) => setName(e.currentTarget.value)}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <TextInput
          aria-label="Its number"
          placeholder="12 or 3/8 in"
          value={value}
          onChange={(e) => setValue(e.currentTarget.value)}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <ActionIcon variant="light" type="submit" aria-label="Add value">
          +
        </ActionIcon>
      </form>
    </>
  );
}
