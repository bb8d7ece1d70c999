/** A step on the cord: its state, glyph, name and the figure that matters. */
import { ActionIcon, Menu } from "@mantine/core";
import { useState } from "react";
import type { Part, Step, StepReport } from "../api/types";
import { isDrawn } from "../state/drawings";
import { between } from "../state/groups";
import { roleOf, ROLE_COLOUR } from "../state/roles";
import { useView } from "../state/view";
import { StepGlyph } from "./glyphs";
import { renameStep } from "../state/renaming";
import { NameField } from "../ui/NameField";
import { ROW } from "./rows";
import { StepItems } from "./StepItems";
import type { useCarry } from "./useCarry";
import styles from "./Cord.module.css";

export type MarkState = "fresh" | "building" | "failed" | "off" | "below" | "waiting";

interface MarkProps {
  part: Part;
  step: Step;
  row: number;
  inGroup: boolean;
  report: StepReport | undefined;
  state: MarkState;
  carry: ReturnType<typeof useCarry>;
}

const STATE_WORDS: Record<MarkState, string> = {
  fresh: "built",
  building: "building…",
  failed: "failed",
  off: "switched off",
  below: "below the sinker",
  waiting: "waiting",
};

export function Mark({ part, step, row, inGroup, report, state, carry }: MarkProps) {
  const selected = useView((s) => s.selected === step.id);
  const { select, sketch } = useView.getState();
  const [renaming, setRenaming] = useState(false);
  const hidden = useView((s) => s.unseen.includes(step.id));
  const marked = useView((s) => s.marked.includes(step.id));
  const role = roleOf(part, step);
  const rename = (name: string | null) => {
    setRenaming(false);
    if (name !== null) void renameStep(step.id, name);
  };
  const figure = state === "fresh" ? report?.figure || "built" : STATE_WORDS[state];
  return (
    <div
      className={styles.mark}
      data-state={state}
      data-selected={selected || undefined}
      style={{ top: row * ROW, height: ROW }}
      data-step={step.id}
      data-marked={marked || undefined}
      data-grouped={inGroup || undefined}
      data-carried={carry.carried?.step.id === step.id || undefined}
      onPointerDown={(e) => carry.begin(e, step, row)}
      onPointerMove={carry.move}
      onPointerUp={carry.end}
      onPointerCancel={carry.cancel}
    >
      <span className={styles.knot} style={{ color: ROLE_COLOUR[role] }} title={STATE_WORDS[state]}>
        <StateKnot state={state} />
      </span>
      {renaming ? (
        <NameField label="Name of the step" name={step.name} className={styles.markName} onDone={rename} />
      ) : (
        <button
          type="button"
          className={styles.markOpen}
          data-testid="open-step"
          aria-current={selected}
          onClick={(e) => {
            const { selected: first, set } = useView.getState();
            if (e.shiftKey && first !== null) set({ marked: between(part, first, step.id) });
            else select(step.id);
          }}
          onDoubleClick={() => (isDrawn(step) ? sketch(step.id) : setRenaming(true))}
        >
          <span style={{ color: ROLE_COLOUR[role] }}>
            <StepGlyph kind={step.kind} role={role} />
          </span>
          <span className={styles.markText}>
            <span className={styles.markTitle}>
              {step.name}
              {hidden && <span className={styles.markHidden}> hidden</span>}
            </span>
            <span className={styles.markFigure}>{figure}</span>
          </span>
        </button>
      )}
      <StepMenu part={part} step={step} onRename={() => setRenaming(true)} />
    </div>
  );
}

/** States differ in shape: filled, half, crossed, hollow. */
function StateKnot({ state }: { state: MarkState }) {
  return (
    <svg width="16" height="16" viewBox="0 0 16 16">
      {state === "failed" && <path d="M8 1l7 13H1z" fill="var(--madder)" />}
      {state === "failed" && <path d="M8 6v4M8 11.4v1.4" stroke="var(--panel)" strokeWidth="1.6" />}
      {state === "fresh" && <circle cx="8" cy="8" r="5" fill="currentColor" />}
      {state === "building" && (
        <g className={styles.turning}>
          <circle
            cx="8"
            cy="8"
            r="5.4"
            fill="var(--panel)"
            stroke="var(--brass)"
            strokeWidth="2"
            strokeDasharray="20 12"
          />
        </g>
      )}
      {(state === "below" || state === "waiting") && (
        <circle cx="8" cy="8" r="4.5" fill="var(--panel)" stroke="currentColor" strokeWidth="1.6" />
      )}
      {state === "off" && (
        <>
          <circle cx="8" cy="8" r="4.5" fill="var(--panel)" stroke="var(--soft)" strokeWidth="1.4" />
          <path d="M3 13L13 3" stroke="var(--soft)" strokeWidth="1.6" />
        </>
      )}
    </svg>
  );
}

function StepMenu({ part, step, onRename }: { part: Part; step: Step; onRename: () => void }) {
  return (
    <Menu withinPortal position="right-start" returnFocus={false}>
      <Menu.Target>
        <ActionIcon
          className={styles.markMenu}
          variant="subtle"
          color="gray"
          size="sm"
          aria-label={`More for ${step.name}`}
        >
          ⋯
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <StepItems part={part} step={step} onRename={onRename} />
      </Menu.Dropdown>
    </Menu>
  );
}
