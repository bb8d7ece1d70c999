/** The profile of a sweep: drawn, a face or a quick one, brought to the path, with a wall. */
import { ActionIcon, Button, Group, SegmentedControl, Select, Switch } from "@mantine/core";
import type { Expression, QuickProfile } from "../../api/types";
import type { SweepStep } from "./step";
import { faceTitle } from "../../state/faceTitle";
import { stepOf, stepsBefore, usePart } from "../../state/part";
import { isFace, isQuick, isSketch, profileSource } from "../../state/bodies";
import { bringFor, quickSection } from "./new";
import { useView } from "../../state/view";
import { Card } from "../../slip/Card";
import { ExpressionField } from "../../ui/ExpressionField";
import { More } from "../../slip/More";
import { RegionPick } from "../../slip/RegionPick";
import { SourcePick } from "../../slip/SourcePick";
import { isDrawn } from "../../state/drawings";
import type { Shared } from "./shared";
import fields from "../../ui/fields.module.css";

const SOURCES = [
  { value: "sketch", label: "Drawn in a sketch" },
  { value: "face", label: "A face of a body" },
  { value: "round", label: "Round" },
  { value: "ring", label: "Ring" },
  { value: "rectangle", label: "Rectangle" },
  { value: "slot", label: "Slot" },
  { value: "ellipse", label: "Ellipse" },
  { value: "hexagon", label: "Hexagon" },
  { value: "polygon", label: "Polygon" },
];
const TRIANGLE = [
  { x: -8, y: -5 },
  { x: 8, y: -5 },
  { x: 0, y: 9 },
];
const QUICK_SIZES: Record<QuickProfile["quick"], [size: "width" | "height" | "wall", label: string][]> = {
  round: [["width", "Diameter"]],
  ring: [
    ["width", "Diameter"],
    ["wall", "Wall of the ring"],
  ],
  rectangle: [
    ["width", "Width"],
    ["height", "Height"],
  ],
  slot: [
    ["width", "Width"],
    ["height", "Height"],
  ],
  ellipse: [
    ["width", "Width"],
    ["height", "Height"],
  ],
  hexagon: [["width", "Across flats"]],
  polygon: [],
};

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
          take: (from, face) => {
            useView.getState().set({ pick: null });
            draft.commit("Take a face", { profile: { step: from, face }, bring: null });
          },
        },
      });
    } else if (next !== null) {
      const now = isQuick(profile) ? profile : quickSection("round", 20);
      const or = (size: Expression, otherwise: Expression) => (size === 0 ? otherwise : size);
      draft.commit("Quick section", {
        bring: null,
        profile: {
          quick: next as QuickProfile["quick"],
          width: or(now.width, 20),
          height: or(now.height, 8),
          wall: next === "ring" ? or(now.wall, 2) : now.wall,
          corners: next === "polygon" && now.corners.length < 3 ? TRIANGLE : now.corners,
        },
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
      {isQuick(profile) && <QuickSizes step={step} draft={draft} />}
      {!isQuick(profile) && <BringFields step={step} draft={draft} />}
      <WallFields step={step} draft={draft} />
    </Card>
  );
}

function QuickSizes({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const { profile } = step;
  if (!isQuick(profile)) return null;
  if (profile.quick === "polygon") return <Corners profile={profile} units={units} draft={draft} />;
  return QUICK_SIZES[profile.quick].map(([size, label]) => (
    <ExpressionField
      key={size}
      label={label}
      unit={units}
      value={profile[size]}
      onPreview={(v) => draft.preview({ profile: { ...profile, [size]: v ?? 0 } })}
      onCommit={(v) => draft.commit(`Change ${size}`, { profile: { ...profile, [size]: v ?? 0 } })}
    />
  ));
}

/** The corners of a polygon, a row each. */
function Corners({ profile, units, draft }: { profile: QuickProfile; units: string; draft: Shared["draft"] }) {
  const change = (corners: QuickProfile["corners"]) => ({ profile: { ...profile, corners } });
  const moved = (i: number, axis: "x" | "y", v: Expression | null) =>
    change(profile.corners.map((c, k) => (k === i ? { ...c, [axis]: v ?? 0 } : c)));
  return (
    <>
      {profile.corners.map((corner, i) => (
        <Group key={i} gap={4} wrap="nowrap">
          {(["x", "y"] as const).map((axis) => (
            <ExpressionField
              key={axis}
              bare
              label={`Corner ${i + 1}, ${axis}`}
              unit={units}
              value={corner[axis]}
              onPreview={(v) => draft.preview(moved(i, axis, v))}
              onCommit={(v) => draft.commit("Move a corner", moved(i, axis, v))}
            />
          ))}
          <ActionIcon
            variant="subtle"
            size="sm"
            aria-label={`Take corner ${i + 1} away`}
            disabled={profile.corners.length <= 3}
            onClick={() => draft.commit("Take a corner away", change(profile.corners.filter((_, k) => k !== i)))}
          >
            ×
          </ActionIcon>
        </Group>
      ))}
      <Button
        variant="subtle"
        size="compact-xs"
        onClick={() => draft.commit("Add a corner", change([...profile.corners, { x: 0, y: 0 }]))}
      >
        Add a corner
      </Button>
    </>
  );
}

/** As drawn, or moved to the path and stood up square to it. */
function BringFields({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const source = usePart((s) => stepOf(s.document, profileSource(step.profile)));
  const { bring } = step;
  const points = isDrawn(source) ? source.sketch.points.map((p) => ({ value: p.id, label: `Point ${p.id}` })) : [];
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

const SIDES = [
  { value: "inward", label: "Inward" },
  { value: "outward", label: "Outward" },
  { value: "both", label: "Both" },
];

function WallFields({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <ExpressionField
        label="Wall"
        unit={units}
        value={step.wall}
        empty={step.surface ? "none" : "solid"}
        onPreview={(wall) => draft.preview({ wall })}
        onCommit={(wall) => draft.commit("Change wall", { wall })}
      />
      {step.wall !== null && (
        <SegmentedControl
          aria-label="Side of the wall"
          data={SIDES}
          value={step.wall_side}
          onChange={(side) => draft.commit("Change side of the wall", { wall_side: side as SweepStep["wall_side"] })}
        />
      )}
      <More label="As a surface" open={step.surface}>
        <Switch
          size="xs"
          label="As a surface: open outlines too"
          checked={step.surface}
          onChange={(e) => draft.commit("Change to a surface", { surface: e.currentTarget.checked })}
        />
      </More>
    </>
  );
}
