/** The sections of a loft in their order: drawn, a face, quick ones on planes, or a point at an end. */
import { ActionIcon, Button, Group, Select } from "@mantine/core";
import type { QuickProfile } from "../../api/types";
import { PlanePick } from "../../slip/PlanePick";
import { QUICK_KINDS, QuickFields, quickOf } from "../../slip/QuickFields";
import { RegionPick } from "../../slip/RegionPick";
import { SourcePick } from "../../slip/SourcePick";
import type { Draft } from "../../slip/draft";
import { More } from "../../slip/More";
import { isDrawn, sketchOf } from "../../state/drawings";
import { faceTitle } from "../../state/faceTitle";
import { faceRef } from "../../state/pickedFace";
import { stepOf, stepsBefore, usePart } from "../../state/part";
import { useView } from "../../state/view";
import { ExpressionField } from "../../ui/ExpressionField";
import { drawn, quickOn } from "./new";
import type { LoftSection, LoftStep, PointAtEnd, QuickOnPlane } from "./step";
import styles from "./SectionRows.module.css";

const KINDS = [
  { value: "sketch", label: "Drawn in a sketch" },
  { value: "face", label: "A face of a body" },
  ...QUICK_KINDS,
  { value: "point", label: "A point" },
];

const kindOf = (s: LoftSection) =>
  s.by === "quick" ? s.profile.quick : s.by === "point" ? "point" : "face" in s.profile ? "face" : "sketch";

interface Props {
  step: LoftStep;
  draft: Draft<LoftStep>;
}

export function SectionRows({ step, draft }: Props) {
  const part = usePart((s) => s.document)!;
  const sketches = stepsBefore(part, step.id).filter(isDrawn);
  const set = (label: string, sections: LoftSection[]) =>
    draft.commit(label, { sections, ...(step.threads.length > 0 ? { threads: [] } : {}) });
  const put = (i: number, section: LoftSection) => step.sections.map((s, k) => (k === i ? section : s));
  const swap = (i: number) =>
    set(
      "Move a section",
      step.sections.map((s, k) => step.sections[k === i ? i - 1 : k === i - 1 ? i : k] ?? s),
    );
  const another = () => {
    const used = new Set(step.sections.flatMap((s) => (s.by === "drawn" ? [s.profile.step] : [])));
    const free = sketches.filter((s) => !used.has(s.id)).at(-1);
    return free !== undefined ? drawn(free.id) : quickOn({ kind: "principal", plane: "XY" }, "round", 20);
  };
  return (
    <>
      {step.sections.map((section, i) => (
        <div key={i} className={styles.section} role="group" aria-label={`Section ${i + 1}`}>
          <div className={styles.head}>
            <span>{i + 1}</span>
            <KindPick section={section} i={i} step={step} onPick={(s) => set("Change a section", put(i, s))} />
            <ActionIcon
              variant="subtle"
              color="gray"
              size="sm"
              aria-label={`Move section ${i + 1} up`}
              disabled={i === 0}
              onClick={() => swap(i)}
            >
              ↑
            </ActionIcon>
            <ActionIcon
              variant="subtle"
              color="gray"
              size="sm"
              aria-label={`Take section ${i + 1} away`}
              disabled={step.sections.length <= 2}
              onClick={() =>
                set(
                  "Take a section away",
                  step.sections.filter((_, k) => k !== i),
                )
              }
            >
              ×
            </ActionIcon>
          </div>
          <SectionFields
            section={section}
            i={i}
            onPreview={(s) => draft.preview({ sections: put(i, s) })}
            onCommit={(label, s) => draft.commit(label, { sections: put(i, s) })}
          />
        </div>
      ))}
      <Button size="compact-xs" variant="default" onClick={() => set("Add a section", [...step.sections, another()])}>
        Another section
      </Button>
    </>
  );
}

interface KindProps {
  section: LoftSection;
  i: number;
  step: LoftStep;
  onPick: (section: LoftSection) => void;
}

/** Where a section comes from. */
function KindPick({ section, i, step, onPick }: KindProps) {
  const part = usePart((s) => s.document)!;
  const choose = (source: string | null) => {
    const last = stepsBefore(part, step.id).filter(isDrawn).at(-1);
    if (source === "sketch") {
      if (last !== undefined) onPick(drawn(last.id));
    } else if (source === "point") {
      if (last !== undefined) onPick({ by: "point", point: { step: last.id, point: "O" } });
    } else if (source === "face") {
      useView.getState().set({
        pick: {
          want: "face",
          before: step.id,
          label: "Pick the face",
          take: (_, face) => {
            useView.getState().set({ pick: null });
            onPick({ by: "drawn", profile: faceRef(face) });
          },
        },
      });
    } else if (source !== null) {
      const quick = source as QuickProfile["quick"];
      const before = section.by === "quick" ? section : quickOn({ kind: "principal", plane: "XY" }, quick, 20);
      onPick({ ...before, profile: quickOf(quick, before.profile) });
    }
  };
  return <Select aria-label={`What section ${i + 1} is`} data={KINDS} value={kindOf(section)} onChange={choose} />;
}

interface FieldProps {
  section: LoftSection;
  i: number;
  onPreview: (section: LoftSection) => void;
  onCommit: (label: string, section: LoftSection) => void;
}

function SectionFields({ section, i, onPreview, onCommit }: FieldProps) {
  if (section.by === "point") return <PointFields section={section} i={i} onCommit={onCommit} />;
  if (section.by === "quick")
    return <QuickSectionFields section={section} i={i} onPreview={onPreview} onCommit={onCommit} />;
  const { profile } = section;
  if ("face" in profile) return <p className="soft">{faceTitle(profile.face)}</p>;
  return (
    <>
      <SourcePick
        label={`Sketch of section ${i + 1}`}
        value={profile.step}
        onPick={(id) => onCommit("Pick a section", drawn(id))}
      />
      <RegionPick
        profile={profile.step}
        value={profile.regions ?? null}
        onPick={(regions) => onCommit("Pick a region", { ...section, profile: { step: profile.step, regions } })}
      />
    </>
  );
}

function PointFields({ section, i, onCommit }: Omit<FieldProps, "section" | "onPreview"> & { section: PointAtEnd }) {
  const source = usePart((s) => stepOf(s.document, section.point.step));
  const points = isDrawn(source) ? sketchOf(source).points.map((p) => ({ value: p.id, label: `Point ${p.id}` })) : [];
  return (
    <Group gap={6} grow>
      <SourcePick
        label={`Sketch of point ${i + 1}`}
        value={section.point.step}
        onPick={(step) => onCommit("Pick a point", { ...section, point: { step, point: "O" } })}
      />
      <Select
        aria-label={`Point of section ${i + 1}`}
        data={[{ value: "O", label: "Sketch origin" }, ...points]}
        value={section.point.point}
        onChange={(point) =>
          point !== null && onCommit("Pick a point", { ...section, point: { ...section.point, point } })
        }
      />
    </Group>
  );
}

const PLACES = [
  ["x", "Aside"],
  ["y", "Up"],
] as const;

function QuickSectionFields({
  section,
  i,
  onPreview,
  onCommit,
}: Omit<FieldProps, "section"> & { section: QuickOnPlane }) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const moved = section.x !== 0 || section.y !== 0 || section.turn !== 0;
  return (
    <>
      <PlanePick
        label={`Plane of section ${i + 1}`}
        value={section.plane}
        onPick={(plane) => onCommit("Pick a plane", { ...section, plane })}
      />
      <QuickFields
        profile={section.profile}
        onPreview={(profile) => onPreview({ ...section, profile })}
        onCommit={(label, profile) => onCommit(label, { ...section, profile })}
      />
      <More label="Beside the plane's origin, turned" open={moved}>
        {PLACES.map(([axis, label]) => (
          <ExpressionField
            key={axis}
            label={label}
            unit={units}
            value={section[axis]}
            onPreview={(v) => onPreview({ ...section, [axis]: v ?? 0 })}
            onCommit={(v) => onCommit("Move a section", { ...section, [axis]: v ?? 0 })}
          />
        ))}
        <ExpressionField
          label="Turned by"
          unit="°"
          value={section.turn}
          onPreview={(v) => onPreview({ ...section, turn: v ?? 0 })}
          onCommit={(v) => onCommit("Turn a section", { ...section, turn: v ?? 0 })}
        />
      </More>
    </>
  );
}
