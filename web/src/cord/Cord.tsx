/** The part's steps on a cord, with threads to what each uses, and the sinker at its end. */
import { ActionIcon, Menu, TextInput } from "@mantine/core";
import { useRef, useState } from "react";
import type { Part, Step, StepReport } from "../api/types";
import { usePart, withStep } from "../state/part";
import { roleOf, ROLE_COLOUR, threads } from "../state/roles";
import { isDrawn } from "../state/drawings";
import { useView } from "../state/view";
import { StepGlyph } from "./glyphs";
import { StepItems } from "./StepItems";
import { openLocker } from "../locker/openLocker";
import styles from "./Cord.module.css";

const ROW = 50;

type Shown = "fresh" | "building" | "failed" | "off" | "below" | "waiting";

function shownState(step: Step, report: StepReport | undefined, live: string | undefined, building: boolean): Shown {
  if (step.off) return "off";
  if (building && live === "building") return "building";
  if (report === undefined || report.state === "stopped") return "waiting";
  return report.state;
}

export function Cord() {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const live = usePart((s) => s.live);
  const building = usePart((s) => s.buildState === "building");
  if (part === null) return null;
  return (
    <nav className={styles.cord} aria-label="Steps of the part">
      <div className={styles.cordScroll}>
        <div className={styles.cordBody} style={{ height: (part.steps.length + 1) * ROW }}>
          <Threads part={part} />
          {part.steps.map((step, i) => (
            <Mark
              key={step.id}
              part={part}
              step={step}
              index={i}
              report={result?.steps[step.id]}
              state={shownState(step, result?.steps[step.id], live[step.id], building)}
            />
          ))}
          <Sinker part={part} />
        </div>
      </div>
      <button type="button" className={styles.cordAdd} onClick={openLocker}>
        <span aria-hidden="true">+</span> Add a step <kbd>A</kbd>
      </button>
    </nav>
  );
}

function Threads({ part }: { part: Part }) {
  const selected = useView((s) => s.selected);
  const row = new Map(part.steps.map((s, i) => [s.id, i]));
  const y = (id: string) => row.get(id)! * ROW + ROW / 2;
  return (
    <svg className={styles.threads} width="56" height={(part.steps.length + 1) * ROW} aria-hidden="true">
      <path d={`M44 0V${(part.steps.length + 0.5) * ROW}`} stroke="var(--brass)" strokeWidth="2.5" />
      {threads(part).map(({ from, to, role }, i) => {
        const span = Math.abs(row.get(from)! - row.get(to)!);
        const reach = 40 - Math.min(34, 7 + span * 7);
        const lit = selected === from || selected === to;
        const a = y(from) - (role === "path" ? 5 : 1);
        const b = y(to) + 4;
        return (
          <path
            key={i}
            d={`M42 ${a}C${reach} ${a} ${reach} ${b} 42 ${b}`}
            fill="none"
            stroke={ROLE_COLOUR[role]}
            strokeWidth={lit ? 2.2 : 1.2}
            opacity={selected === null || lit ? 0.95 : 0.35}
            strokeDasharray={role === "plane" ? "3 3" : undefined}
          />
        );
      })}
    </svg>
  );
}

interface MarkProps {
  part: Part;
  step: Step;
  index: number;
  report: StepReport | undefined;
  state: Shown;
}

const STATE_WORDS: Record<Shown, string> = {
  fresh: "built",
  building: "building…",
  failed: "failed",
  off: "switched off",
  below: "below the sinker",
  waiting: "waiting",
};

function Mark({ part, step, index, report, state }: MarkProps) {
  const selected = useView((s) => s.selected === step.id);
  const { select, sketch } = useView.getState();
  const [renaming, setRenaming] = useState(false);
  const hidden = useView((s) => s.unseen.includes(step.id));
  const role = roleOf(part, step);
  const figure = state === "fresh" ? report?.figure || "built" : STATE_WORDS[state];
  return (
    <div
      className={styles.mark}
      data-state={state}
      data-selected={selected || undefined}
      style={{ top: index * ROW, height: ROW }}
      data-step={step.id}
    >
      <span className={styles.knot} style={{ color: ROLE_COLOUR[role] }} title={STATE_WORDS[state]}>
        <StateKnot state={state} />
      </span>
      {renaming ? (
        <TextInput
          className={styles.markName}
          defaultValue={step.name}
          autoFocus
          aria-label="Name of the step"
          onBlur={(e) => {
            setRenaming(false);
            const name = e.currentTarget.value.trim();
            if (name && name !== step.name)
              void usePart.getState().change(`Rename to ${name}`, (p) => withStep(p, step.id, (s) => ({ ...s, name })));
          }}
          onKeyDown={(e) => {
            if (e.key === "Enter" || e.key === "Escape") e.currentTarget.blur();
            e.stopPropagation();
          }}
        />
      ) : (
        <button
          type="button"
          className={styles.markOpen}
          data-testid="open-step"
          aria-current={selected}
          onClick={() => select(step.id)}
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
function StateKnot({ state }: { state: Shown }) {
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
    <Menu withinPortal position="right-start">
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

/** Drag it up to build only that far. */
function Sinker({ part }: { part: Part }) {
  const at = part.sinker === null ? part.steps.length : part.steps.findIndex((s) => s.id === part.sinker) + 1;
  const [pulled, setPulled] = useState<number | null>(null);
  const start = useRef(0);
  const row = pulled ?? at;
  const put = (rows: number) => {
    const clamped = Math.max(1, Math.min(part.steps.length, rows));
    const sinker = clamped >= part.steps.length ? null : part.steps[clamped - 1]!.id;
    if (sinker !== part.sinker) void usePart.getState().change("Move the sinker", (p) => ({ ...p, sinker }));
  };
  if (part.steps.length === 0) return null;
  return (
    <div
      className={styles.sinker}
      style={{ top: row * ROW }}
      role="slider"
      tabIndex={0}
      aria-label="Sinker: build up to here"
      aria-valuemin={1}
      aria-valuemax={part.steps.length}
      aria-valuenow={at}
      title="Drag up to build only that far"
      onKeyDown={(e) => {
        if (e.key === "ArrowUp") put(at - 1);
        if (e.key === "ArrowDown") put(at + 1);
      }}
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        start.current = e.clientY;
        setPulled(at);
      }}
      onPointerMove={(e) => {
        if (pulled === null) return;
        setPulled(Math.max(1, Math.min(part.steps.length, at + Math.round((e.clientY - start.current) / ROW))));
      }}
      onPointerUp={() => {
        if (pulled !== null) put(pulled);
        setPulled(null);
      }}
    >
      <svg width="26" height="34" viewBox="0 0 26 34" aria-hidden="true">
        <path d="M13 0v9" stroke="var(--brass)" strokeWidth="2.5" />
        <path d="M13 8l7 7-3 15h-8l-3-15z" fill="var(--sea)" />
      </svg>
      {part.sinker !== null && <span className={styles.sinkerNote}>builds to here</span>}
    </div>
  );
}
