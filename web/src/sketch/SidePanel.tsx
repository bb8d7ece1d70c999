/** At the right of the sketch: what is free, what is selected, the numbers of a tool or action, what would not go. */
import { ActionIcon, Button, NumberInput, SegmentedControl, Switch, TextInput, Tooltip } from "@mantine/core";
import { useState, type ReactNode } from "react";
import type { Dimension, Message, SketchData, Units } from "../api/types";
import { curveTitle } from "../state/curveTitle";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import { MessageLine } from "../ui/MessageLine";
import { inUnits, length, trim } from "../ui/format";
import { ACTIONS, type SketchAction } from "./actions";
import { act, letGo, openSvg, removeSelected } from "./commands";
import { facesFor } from "./sources";
import { edit, giveUp, keepAsReference, project } from "./changes";
import { useSketch } from "./sketchStore";
import { startWiggle } from "./wiggle";
import { useShallow } from "zustand/react/shallow";
import clsx from "clsx";
import styles from "./SidePanel.module.css";

export function SidePanel() {
  const { live, selection, dispute, action, note, mirrorAbout, tool, comb } = useSketch(
    useShallow(({ live, selection, dispute, action, note, mirrorAbout, tool, comb }) => ({
      live,
      selection,
      dispute,
      action,
      note,
      mirrorAbout,
      tool,
      comb,
    })),
  );
  const units = usePart((s) => s.document?.units ?? "mm");
  if (live === null) return null;
  const chosen = ACTIONS.find((a) => a.id === action);
  return (
    <aside className={styles.sketchSide} aria-label="State of the sketch">
      <p className={styles.freedom} role="status" data-testid="freedom">
        <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
          {live.freedom > 0 ? (
            <circle cx="7" cy="7" r="5" fill="none" stroke="var(--amber)" strokeWidth="2.2" />
          ) : (
            <rect x="2" y="2" width="10" height="10" fill="var(--indigo)" />
          )}
        </svg>
        {live.sketch.entities.length === 0
          ? "Nothing is drawn yet"
          : live.freedom === 0
            ? "Settled"
            : `${live.freedom} still free`}
      </p>
      {live.freedom > 0 && (
        <Button variant="default" size="compact-xs" onClick={startWiggle}>
          Show me (Z)
        </Button>
      )}
      {mirrorAbout !== null && (
        <Card title={`Mirrored about ${curveTitle(live.sketch, mirrorAbout, units)}`}>
          <Button size="compact-xs" variant="default" onClick={() => useSketch.getState().set({ mirrorAbout: null })}>
            Stop mirroring
          </Button>
        </Card>
      )}
      {(tool === "fillet" || tool === "chamfer") && (
        <CornerSize title={tool === "fillet" ? "Radius" : "How far back"} units={units} />
      )}
      {tool === "polygon" && <Sides />}
      {tool === "project" && <Faces />}
      {(live.lost ?? []).map((m, i) => (
        <Lost key={i} message={m} />
      ))}
      {comb && <p className={clsx(styles.chosen, "soft")}>The comb's longest hair: {largestBend(live, units)}</p>}
      {selection.length > 0 && <Chosen data={live} selection={selection} units={units} />}
      {chosen !== undefined && <ActionCard key={chosen.id} action={chosen} units={units} />}
      <SvgQuestion units={units} />
      {note !== null && (
        <p className={styles.chosen} role="status">
          {note}
        </p>
      )}
      {dispute !== null && (
        <MessageLine message={dispute.message}>
          {dispute.added !== null && dispute.tried.dimensions.some((d) => d.id === dispute.added) && (
            <Button size="compact-xs" onClick={() => keepAsReference(dispute)}>
              Make it a reference
            </Button>
          )}
          <Button size="compact-xs" variant="default" onClick={() => useSketch.getState().set({ dispute: null })}>
            Leave it
          </Button>
          {dispute.against.map((item) => (
            <Button key={item} size="compact-xs" variant="default" color="madder" onClick={() => giveUp(dispute, item)}>
              Give up {titleOf(dispute.tried, item, units)}
            </Button>
          ))}
        </MessageLine>
      )}
    </aside>
  );
}

function Card({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className={styles.sideCard} aria-label={title}>
      <h3>{title}</h3>
      {children}
    </section>
  );
}

function largestBend(data: SketchData, units: Units): string {
  const most = Math.max(
    ...Object.values(data.combs)
      .flat()
      .map(([, , x, y]) => Math.hypot(x, y)),
    0,
  );
  return most < 1e-9 ? "straight" : `radius ${length(1 / most, units)}`;
}

function CornerSize({ title, units }: { title: string; units: Units }) {
  const corner = useSketch((s) => s.corner);
  return (
    <Card title="Corner">
      <TextInput
        label={title}
        value={corner}
        rightSection={<span className="soft">{units}</span>}
        rightSectionWidth={38}
        onChange={(e) => useSketch.getState().set({ corner: e.currentTarget.value })}
      />
    </Card>
  );
}

/** Faces of earlier bodies, whose outlines can be projected. */
function Faces() {
  const part = usePart((s) => s.document);
  const step = useSketch((s) => s.step);
  const attach = useSketch((s) => s.attach);
  const picked = useView((s) => s.face);
  if (part === null || step === null) return null;
  const faces = facesFor(part, step, picked);
  return (
    <Card title={attach === null ? "Project" : "Attach again"}>
      <p className="soft">
        {attach === null ? "Pick a curve, edge or point in the drawing" : "Pick what it is to follow"}
        {faces.length > 0 && ", or the outline of a face:"}
      </p>
      {faces.map((f) => (
        <Button
          key={f.face}
          size="compact-sm"
          variant="default"
          onClick={() => project(f.face.split("/")[0]!, "face", f.face)}
        >
          {f.title}
        </Button>
      ))}
    </Card>
  );
}

/** Reference geometry whose source is gone. */
function Lost({ message }: { message: Message }) {
  const { projection } = message.place as { projection: string };
  return (
    <MessageLine message={message}>
      <Button
        size="compact-xs"
        onClick={() => {
          useSketch.getState().use("project");
          useSketch.getState().set({ attach: projection });
        }}
      >
        Attach again
      </Button>
      <Button size="compact-xs" variant="default" onClick={() => letGo(projection)}>
        Let it go
      </Button>
    </MessageLine>
  );
}

function Sides() {
  const sides = useSketch((s) => s.sides);
  return (
    <Card title="Polygon">
      <NumberInput
        label="Sides"
        value={sides}
        min={3}
        max={60}
        allowDecimal={false}
        onChange={(v) => typeof v === "number" && v >= 3 && v <= 60 && useSketch.getState().set({ sides: v })}
      />
    </Card>
  );
}

function ActionCard({ action, units }: { action: SketchAction; units: Units }) {
  const [values, setValues] = useState(Object.fromEntries(action.fields.map((f) => [f.name, f.start])));
  const [on, setOn] = useState(true);
  const go = () => void act(action, values, on);
  return (
    <Card title={action.title}>
      {action.fields.map((f, i) => (
        <TextInput
          key={f.name}
          label={f.label}
          value={values[f.name]}
          autoFocus={i === 0}
          rightSectionWidth={38}
          rightSection={<span className="soft">{f.unit === "length" ? units : f.unit === "deg" ? "°" : ""}</span>}
          onChange={(e) => setValues({ ...values, [f.name]: e.currentTarget.value })}
          onKeyDown={(e) => {
            if (e.key === "Enter") go();
            if (e.key === "Escape") useSketch.getState().set({ action: null });
          }}
        />
      ))}
      {action.toggle && (
        <Switch
          label={on ? action.toggle.on : action.toggle.off}
          checked={on}
          onChange={(e) => setOn(e.currentTarget.checked)}
        />
      )}
      <p className="soft">{action.hint}</p>
      <div className={styles.sideRow}>
        <Button size="compact-sm" onClick={go}>
          {action.title}
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => useSketch.getState().set({ action: null })}>
          Leave it
        </Button>
      </div>
    </Card>
  );
}

const SVG_UNITS = [
  { label: "1 mm", mm: 1 },
  { label: "1 px", mm: 25.4 / 96 },
  { label: "1 pt", mm: 25.4 / 72 },
  { label: "1 in", mm: 25.4 },
];

/** The question that an SVG without a physical size raises. */
function SvgQuestion({ units }: { units: Units }) {
  const svg = useSketch((s) => s.svg);
  if (svg === null) return null;
  return (
    <Card title="How long is one unit of this SVG?">
      {SVG_UNITS.map((u) => (
        <Button
          key={u.label}
          size="compact-sm"
          variant="default"
          justify="space-between"
          onClick={() => void openSvg(svg.file, u.mm)}
          rightSection={
            <span className="soft">
              {trim(inUnits(svg.width * u.mm, units))} × {trim(inUnits(svg.height * u.mm, units))} {units}
            </span>
          }
        >
          {u.label}
        </Button>
      ))}
    </Card>
  );
}

function titleOf(sketch: SketchData["sketch"], id: string, units: Units): string {
  const c = sketch.constraints.find((k) => k.id === id);
  const d = sketch.dimensions.find((k) => k.id === id);
  return c
    ? `${c.kind.replace("_", " ")} of ${c.items.map((item) => curveTitle(sketch, item, units)).join(", ")}`
    : d
      ? `${d.kind.replaceAll("_", " ")} ${d.value}`
      : id;
}

function Chosen({ data, selection, units }: { data: SketchData; selection: string[]; units: Units }) {
  const dimension = selection.length === 1 ? data.sketch.dimensions.find((d) => d.id === selection[0]) : undefined;
  return (
    <>
      <div className={styles.chosen}>
        {selection.map((id) => {
          const e = data.sketch.entities.find((x) => x.id === id);
          const off = e?.kind === "smoothed" ? `, ${length(data.measured[id] ?? 0, units)} off at most` : "";
          const drawn = e !== undefined || ["O", "X", "Y"].includes(id) || data.sketch.points.some((p) => p.id === id);
          const text = drawn ? `${curveTitle(data.sketch, id, units)}${off}` : titleOf(data.sketch, id, units);
          const from = data.sketch.projections.find((p) => p.entities.includes(id) || p.points.includes(id));
          return (
            <span key={id} className="figures">
              {text}
              {from && `, from ${stepName(from.source)}`}
            </span>
          );
        })}
        <Tooltip label="Delete (Del)">
          <ActionIcon
            variant="subtle"
            color="madder"
            size="sm"
            aria-label="Delete what is selected"
            onClick={removeSelected}
          >
            ×
          </ActionIcon>
        </Tooltip>
      </div>
      {dimension !== undefined && <DimensionCard dimension={dimension} data={data} />}
    </>
  );
}

const stepName = (id: string) => usePart.getState().document?.steps.find((s) => s.id === id)?.name ?? id;

/** What a dimension measures where it could measure several things, and whether it holds. */
function DimensionCard({ dimension: d, data }: { dimension: Dimension; data: SketchData }) {
  const e = data.sketch.entities.find((x) => x.id === d.items[0]);
  const toRound =
    d.kind === "distance" &&
    d.items.some((i) => data.sketch.entities.some((x) => x.id === i && (x.kind === "arc" || x.kind === "circle")));
  const kinds: { value: Dimension["kind"]; label: string }[] =
    e?.kind === "arc" && d.items.length === 1
      ? [
          { value: "radius", label: "Radius" },
          { value: "diameter", label: "Ø" },
          { value: "curve_length", label: "Length" },
        ]
      : e?.kind === "circle" && d.items.length === 1
        ? [
            { value: "radius", label: "Radius" },
            { value: "diameter", label: "Ø" },
          ]
        : [];
  const replace = (label: string, next: Partial<Dimension>) =>
    void edit(label, (sketch) => ({
      ...sketch,
      dimensions: sketch.dimensions.map((x) => (x.id === d.id ? { ...x, ...next } : x)),
    }));
  return (
    <Card title="Dimension">
      {kinds.length > 0 && (
        <SegmentedControl
          fullWidth
          aria-label="What it measures"
          data={kinds}
          value={d.kind}
          onChange={(kind) => replace("Measure something else", { kind: kind, driving: false })}
        />
      )}
      {toRound && (
        <SegmentedControl
          fullWidth
          aria-label="Which side"
          data={[
            { value: "near", label: "Near side" },
            { value: "far", label: "Far side" },
          ]}
          value={d.side}
          onChange={(side) => replace("Measure to the other side", { side: side, driving: false })}
        />
      )}
      <Switch
        label={d.driving ? "Holds the size" : "Only measures"}
        checked={d.driving}
        onChange={(ev) =>
          replace(
            ev.currentTarget.checked ? "Hold the size" : "Only measure",
            holding(d, data, ev.currentTarget.checked),
          )
        }
      />
    </Card>
  );
}

/** A reference that starts to hold holds what it measures. */
function holding(d: Dimension, data: SketchData, driving: boolean): Partial<Dimension> {
  const mm = data.measured[d.id];
  if (!driving || mm === undefined) return { driving };
  return { driving, value: d.kind === "angle" ? `${(mm * 180) / Math.PI} deg` : `${mm} mm` };
}
