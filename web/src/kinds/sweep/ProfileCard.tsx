/** The profile of a sweep: drawn, a face or a quick one, brought to the path, with a wall. */
import { SegmentedControl, Select, Switch } from "@mantine/core";
import type { QuickProfile } from "../../api/types";
import type { SweepStep } from "./step";
import { faceTitle } from "../../state/faceTitle";
import { faceRef } from "../../state/pickedFace";
import { stepOf, stepsBefore, usePart } from "../../state/part";
import { isFace, isQuick, isSketch, profileSource } from "../../state/bodies";
import { bringFor } from "./new";
import { useView } from "../../state/view";
import { Card } from "../../slip/Card";
import { ExpressionField } from "../../ui/ExpressionField";
import { More } from "../../slip/More";
import { QUICK_KINDS, QuickFields, quickOf } from "../../slip/QuickFields";
import { RegionPick } from "../../slip/RegionPick";
import { WallFields } from "../../slip/WallFields";
import { SourcePick } from "../../slip/SourcePick";
import { isDrawn, sketchOf } from "../../state/drawings";
import type { Shared } from "./shared";
import fields from "../../ui/fields.module.css";

const SOURCES = [
  { value: "sketch", label: "Drawn in a sketch" },
  { value: "face", label: "A face of a body" },
  ...QUICK_KINDS,
];

export function ProfileCard({ step, draft }: Shared) {
  const part = usePart((s) => s.document)!;
  const picking = useView((s) => s.pick?.label === "Pick the face");
  const { profile } = step;
  const kind = isQuick(profile) ? profile.quick : isFace(profile) ? "face" : "sketch";
  const choose = (next: string | null) => {
    if (next === "sketch") {
      const last = stepsBefore(part, step.id)
        .filter((s) => isDrawn(s) && s.id !== step.path.step)
        .at(-1);
      if (last !== undefined) pick(last.id);
    } else if (next === "face") {
      useView.getState().set({
        pick: {
          want: "face",
          before: step.id,
          label: "Pick the face",
          take: (_, face) => {
            useView.getState().set({ pick: null });
            draft.commit("Take a face", { profile: faceRef(face), bring: null });
          },
        },
      });
    } else if (next !== null) {
      draft.commit("Quick section", {
        bring: null,
        profile: quickOf(next as QuickProfile["quick"], isQuick(profile) ? profile : null),
      });
    }
  };
  const pick = (id: string) =>
    draft.commit("Pick profile", { profile: { step: id, regions: null }, bring: bringFor(part, step.path.step, id) });
  return (
    <Card title="Profile" tone="section">
      <Select aria-label="Where the profile comes from" value={kind} onChange={choose} data={SOURCES} />
      {picking && <p className="soft">Click the face in the stage.</p>}
      {isSketch(profile) && (
        <>
          <SourcePick label="Profile" value={profile.step} onPick={pick} />
          <RegionPick
            profile={profile.step}
            value={profile.regions}
            onPick={(regions) => draft.commit("Pick regions", { profile: { step: profile.step, regions } })}
          />
        </>
      )}
      {isFace(profile) && <p className="soft">{faceTitle(profile.face)}</p>}
      {isQuick(profile) && (
        <QuickFields
          profile={profile}
          onPreview={(p) => draft.preview({ profile: p })}
          onCommit={(label, p) => draft.commit(label, { profile: p })}
        />
      )}
      {!isQuick(profile) && <BringFields step={step} draft={draft} />}
      <WallFields step={step} draft={draft} />
      <More label="As a surface" open={step.surface}>
        <Switch
          size="xs"
          label="As a surface: open outlines too"
          checked={step.surface}
          onChange={(e) => draft.commit("Change to a surface", { surface: e.currentTarget.checked })}
        />
      </More>
    </Card>
  );
}

/** As drawn, or moved to the path and stood up square to it. */
function BringFields({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const source = usePart((s) => stepOf(s.document, profileSource(step.profile)));
  const { bring } = step;
  const points = isDrawn(source) ? sketchOf(source).points.map((p) => ({ value: p.id, label: `Point ${p.id}` })) : [];
  const change = (patch: Partial<NonNullable<SweepStep["bring"]>>) => ({
    bring: { anchor: "middle", at: 0, turn: 0, ...bring, ...patch },
  });
  return (
    <>
      <SegmentedControl
        aria-label="Where the profile stands"
        data={[
          { value: "drawn", label: "As drawn" },
          { value: "brought", label: "Bring to path" },
        ]}
        value={bring === null ? "drawn" : "brought"}
        onChange={(v) =>
          draft.commit(v === "drawn" ? "Leave as drawn" : "Bring to path", v === "drawn" ? { bring: null } : change({}))
        }
      />
      {bring !== null && (
        <>
          <Select
            className={fields.expression}
            label="On the path"
            value={bring.anchor}
            data={[{ value: "middle", label: "Its middle" }, { value: "origin", label: "Sketch origin" }, ...points]}
            onChange={(anchor) => anchor !== null && draft.commit("Change anchor", change({ anchor }))}
          />
          <ExpressionField
            label="At station"
            unit={units}
            value={bring.at}
            onPreview={(v) => draft.preview(change({ at: v ?? 0 }))}
            onCommit={(v) => draft.commit("Change station", change({ at: v ?? 0 }))}
          />
          <ExpressionField
            label="Turned by"
            unit="°"
            value={bring.turn}
            onPreview={(v) => draft.preview(change({ turn: v ?? 0 }))}
            onCommit={(v) => draft.commit("Turn the profile", change({ turn: v ?? 0 }))}
          />
        </>
      )}
    </>
  );
}
