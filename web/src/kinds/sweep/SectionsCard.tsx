/** Further sections that the profile of a sweep goes over into, each at a station. */
import { ActionIcon, Button, SegmentedControl, Select } from "@mantine/core";
import type { QuickProfile } from "../../api/types";
import { Card } from "../../slip/Card";
import { More } from "../../slip/More";
import { QUICK_KINDS, QuickFields, quickOf } from "../../slip/QuickFields";
import { RegionPick } from "../../slip/RegionPick";
import { SourcePick } from "../../slip/SourcePick";
import { isQuick, isSketch } from "../../state/bodies";
import { isDrawn } from "../../state/drawings";
import { stepsBefore, usePart } from "../../state/part";
import { ExpressionField } from "../../ui/ExpressionField";
import type { Shared } from "./shared";
import type { SweepStep } from "./step";
import styles from "./SectionsCard.module.css";

type Further = SweepStep["sections"][number];

const SOURCES = [
  { value: "drawn", label: "Drawn in a sketch" },
  ...QUICK_KINDS,
  { value: "point", label: "A point of the path" },
];
const CHANGES = [
  { value: "smooth", label: "Smoothly" },
  { value: "even", label: "Evenly" },
];

export function SectionsCard({ step, draft }: Shared) {
  const { sections } = step;
  const set = (label: string, next: Further[]) => draft.commit(label, { sections: next });
  const put = (i: number, section: Further) => sections.map((s, k) => (k === i ? section : s));
  const another = () =>
    set("Add a section", [
      ...sections,
      { profile: quickOf("round", null), at: sections.length === 0 ? "100%" : "50%" },
    ]);
  return (
    <Card title="Further sections" tone="section">
      <More label="Go over into another section" open={sections.length > 0}>
        {sections.map((section, i) => (
          <div key={i} className={styles.section} role="group" aria-label={`Further section ${i + 1}`}>
            <SectionFields
              section={section}
              i={i}
              step={step}
              onPreview={(s) => draft.preview({ sections: put(i, s) })}
              onCommit={(label, s) => set(label, put(i, s))}
              onAway={() =>
                set(
                  "Take a section away",
                  sections.filter((_, k) => k !== i),
                )
              }
            />
          </div>
        ))}
        {sections.length > 0 && (
          <SegmentedControl
            aria-label="How it changes"
            data={CHANGES}
            value={step.section_change}
            onChange={(v) =>
              draft.commit("Change how it goes over", { section_change: v as SweepStep["section_change"] })
            }
          />
        )}
        <Button size="compact-xs" variant="default" mt={6} onClick={another}>
          {sections.length === 0 ? "A section at its end" : "Another section"}
        </Button>
      </More>
    </Card>
  );
}

interface FieldProps {
  section: Further;
  i: number;
  step: SweepStep;
  onPreview: (section: Further) => void;
  onCommit: (label: string, section: Further) => void;
  onAway: () => void;
}

function SectionFields({ section, i, step, onPreview, onCommit, onAway }: FieldProps) {
  const part = usePart((s) => s.document)!;
  const { profile } = section;
  const source = profile === null ? "point" : isQuick(profile) ? profile.quick : "drawn";
  const choose = (next: string | null) => {
    const last = stepsBefore(part, step.id)
      .filter((s) => isDrawn(s) && s.id !== step.path.step)
      .at(-1);
    const at = section.at ?? "100%";
    if (next === "point") onCommit("End in a point", { profile: null, at });
    else if (next === "drawn") {
      if (last !== undefined) onCommit("Pick a section", { profile: { step: last.id, regions: null }, at: null });
    } else if (next !== null) {
      const before = profile !== null && isQuick(profile) ? profile : null;
      onCommit("Change a section", { profile: quickOf(next as QuickProfile["quick"], before), at });
    }
  };
  return (
    <>
      <div className={styles.head}>
        <Select aria-label={`What further section ${i + 1} is`} data={SOURCES} value={source} onChange={choose} />
        <ActionIcon
          variant="subtle"
          color="gray"
          size="sm"
          aria-label={`Take further section ${i + 1} away`}
          onClick={onAway}
        >
          ×
        </ActionIcon>
      </div>
      {profile !== null && isSketch(profile) && (
        <>
          <SourcePick
            label={`Sketch of further section ${i + 1}`}
            value={profile.step}
            onPick={(id) => onCommit("Pick a section", { ...section, profile: { step: id, regions: null } })}
          />
          <RegionPick
            profile={profile.step}
            value={profile.regions}
            onPick={(regions) => onCommit("Pick a region", { ...section, profile: { step: profile.step, regions } })}
          />
        </>
      )}
      {profile !== null && isQuick(profile) && (
        <QuickFields
          profile={profile}
          onPreview={(p) => onPreview({ ...section, profile: p })}
          onCommit={(label, p) => onCommit(label, { ...section, profile: p })}
        />
      )}
      <ExpressionField
        label="Stands at"
        unit={part.units}
        value={section.at}
        empty={source === "drawn" ? "where it is drawn" : "a station"}
        onPreview={(at) => onPreview({ ...section, at })}
        onCommit={(at) => onCommit("Move a section", { ...section, at })}
      />
    </>
  );
}
