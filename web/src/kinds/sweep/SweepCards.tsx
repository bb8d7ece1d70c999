/** The inputs of a sweep, in the order in which one decides them. What is seldom chosen is folded away until it is. */
import { ActionIcon, Button, Group, SegmentedControl, Select, Switch } from "@mantine/core";
import type { Expression, QuickProfile } from "../../api/types";
import type { SweepStep } from "./step";
import { faceTitle } from "../../state/faceTitle";
import { stepOf, stepsBefore, usePart } from "../../state/part";
import { ownPaths, pathSources } from "../../state/paths";
import { isFace, isQuick, isSketch, profileSource } from "../../state/bodies";
import { bringFor, quickSection } from "./new";
import { useView } from "../../state/view";
import { useDraft, useFirstPreview, type Draft } from "../../slip/draft";
import { Card } from "../../slip/Card";
import { ExpressionField } from "../../ui/ExpressionField";
import { SizeFields, TwistFields } from "./LawFields";
import { More } from "../../slip/More";
import { PlanePick } from "../../slip/PlanePick";
import { RailCard } from "./RailCard";
import { RegionPick } from "../../slip/RegionPick";
import { ResultPick } from "../../slip/ResultPick";
import { SourcePick } from "../../slip/SourcePick";
import { UpPick } from "../../slip/UpPick";
import { isDrawn } from "../../state/drawings";

interface Shared {
  step: SweepStep;
  draft: Draft<SweepStep>;
}

export function SweepCards({ step }: { step: SweepStep }) {
  const draft = useDraft<SweepStep>(step.id);
  useFirstPreview(step.id, draft);
  const shared = { step, draft };
  return (
    <>
      <PathCard {...shared} />
      <ProfileCard {...shared} />
      <TurnCard {...shared} />
      <SizeCard {...shared} />
      <RailCard {...shared} />
      <Card title="Result">
        <ResultPick value={step.result} onPick={(result) => draft.commit("Change result", { result })} />
        <FoldChoice step={step} onChange={(build_folded) => draft.commit(build_folded ? "Build all the same" : "Refuse folds", { build_folded })} />
      </Card>
    </>
  );
}

const CORNERS = [{ value: "refuse", label: "Refused" }, { value: "mitre", label: "Mitred" }, { value: "round", label: "Rounded" }];
const WAYS = [{ value: "both", label: "Both ways" }, { value: "forward", label: "Onward" }, { value: "back", label: "Back" }];

function PathCard({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const kinked = usePart((s) => s.result?.steps[step.id]?.messages.some((m) => m.code === "corner" || (m.place as { field?: string }).field === "corners") ?? false);
  const pick = (id: string) => {
    const part = usePart.getState().document!;
    const { profile } = step;
    draft.commit("Pick path", { path: { step: id, curves: null }, ...(isSketch(profile) ? { bring: bringFor(part, id, profile.step) } : {}) });
  };
  const cut = step.cut_start !== null || step.cut_end !== null;
  const stretched = step.start !== null || step.end !== null || step.way !== "both" || step.extend_start !== 0 || step.extend_end !== 0;
  return (
    <Card title="Path" tone="path">
      <SourcePick label="Path" kinds={pathSources()} value={step.path.step} onPick={pick} />
      <More label="Corners" open={step.corners !== "refuse" || kinked}>
        <Select className="expression" label="Corners" data={CORNERS} value={step.corners}
          onChange={(corners) => draft.commit("Change corners", { corners: corners as SweepStep["corners"], ...(corners === "round" && step.corner_radius === 0 ? { corner_radius: 10 } : {}) })} />
        {step.corners === "round" && <ExpressionField label="Corner radius" unit={units} value={step.corner_radius} onPreview={(v) => draft.preview({ corner_radius: v ?? 0 })}
          onCommit={(v) => draft.commit("Change corner radius", { corner_radius: v ?? 0 })} />}
      </More>
      <More label="Ends cut by planes" open={cut}>
        {(["start", "end"] as const).map((end) => (
          <PlanePick key={end} label={`Cut its ${end} by`} none="Not cut" value={step[`cut_${end}`]} onPick={(plane) => draft.commit(`Cut the ${end}`, { [`cut_${end}`]: plane })}
            onNone={() => draft.commit(`Leave the ${end}`, { [`cut_${end}`]: null })} />
        ))}
      </More>
      <More label="A stretch of it" open={stretched}>
        <ExpressionField label="From station" unit={units} value={step.start} empty="its start" onPreview={(start) => draft.preview({ start })} onCommit={(start) => draft.commit("Change start", { start })} />
        <ExpressionField label="To station" unit={units} value={step.end} empty="its end" onPreview={(end) => draft.preview({ end })} onCommit={(end) => draft.commit("Change end", { end })} />
        {(["start", "end"] as const).map((end) => (
          <ExpressionField key={end} label={`Longer at its ${end} by`} unit={units} value={step[`extend_${end}`]} onPreview={(v) => draft.preview({ [`extend_${end}`]: v ?? 0 })}
            onCommit={(v) => draft.commit(`Extend the ${end}`, { [`extend_${end}`]: v ?? 0 })} />
        ))}
        <SegmentedControl aria-label="Way from the profile" data={WAYS} value={step.way} onChange={(way) => draft.commit("Change way", { way: way as SweepStep["way"] })} />
      </More>
    </Card>
  );
}

const SOURCES = [
  { value: "sketch", label: "Drawn in a sketch" }, { value: "face", label: "A face of a body" },
  { value: "round", label: "Round" }, { value: "ring", label: "Ring" }, { value: "rectangle", label: "Rectangle" },
  { value: "slot", label: "Slot" }, { value: "ellipse", label: "Ellipse" }, { value: "hexagon", label: "Hexagon" }, { value: "polygon", label: "Polygon" },
];
const TRIANGLE = [{ x: -8, y: -5 }, { x: 8, y: -5 }, { x: 0, y: 9 }];
const QUICK_SIZES: Record<QuickProfile["quick"], [size: "width" | "height" | "wall", label: string][]> = {
  round: [["width", "Diameter"]], ring: [["width", "Diameter"], ["wall", "Wall of the ring"]], rectangle: [["width", "Width"], ["height", "Height"]],
  slot: [["width", "Width"], ["height", "Height"]], ellipse: [["width", "Width"], ["height", "Height"]], hexagon: [["width", "Across flats"]], polygon: [],
};

function ProfileCard({ step, draft }: Shared) {
  const part = usePart((s) => s.document)!;
  const picking = useView((s) => s.pick?.label === "Pick the face");
  const { profile } = step;
  const kind = isQuick(profile) ? profile.quick : isFace(profile) ? "face" : "sketch";
  const choose = (next: string | null) => {
    if (next === "sketch") {
      const last = stepsBefore(part, step.id).filter((s) => isDrawn(s) && s.id !== step.path.step).at(-1);
      if (last !== undefined) pick(last.id);
    } else if (next === "face") {
      useView.getState().set({ pick: { want: "face", before: step.id, label: "Pick the face", take: (from, face) => {
        useView.getState().set({ pick: null });
        draft.commit("Take a face", { profile: { step: from, face }, bring: null });
      } } });
    } else if (next !== null) {
      const now = isQuick(profile) ? profile : quickSection("round", 20);
      const or = (size: Expression, otherwise: Expression) => (size === 0 ? otherwise : size);
      draft.commit("Quick section", { bring: null, profile: {
        quick: next as QuickProfile["quick"], width: or(now.width, 20), height: or(now.height, 8), wall: next === "ring" ? or(now.wall, 2) : now.wall,
        corners: next === "polygon" && now.corners.length < 3 ? TRIANGLE : now.corners,
      } });
    }
  };
  const pick = (id: string) => draft.commit("Pick profile", { profile: { step: id, regions: null }, bring: bringFor(part, step.path.step, id) });
  return (
    <Card title="Profile" tone="section">
      <Select aria-label="Where the profile comes from" value={kind} onChange={choose}
        data={SOURCES} />
      {picking && <p className="soft">Click the face in the stage.</p>}
      {isSketch(profile) && (
        <>
          <SourcePick label="Profile" value={profile.step} onPick={pick} />
          <RegionPick profile={profile.step} value={profile.regions} onPick={(regions) => draft.commit("Pick regions", { profile: { step: profile.step, regions } })} />
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
    <ExpressionField key={size} label={label} unit={units} value={profile[size]}
      onPreview={(v) => draft.preview({ profile: { ...profile, [size]: v ?? 0 } })} onCommit={(v) => draft.commit(`Change ${size}`, { profile: { ...profile, [size]: v ?? 0 } })} />
  ));
}

/** The corners of a polygon, a row each. */
function Corners({ profile, units, draft }: { profile: QuickProfile; units: string; draft: Shared["draft"] }) {
  const change = (corners: QuickProfile["corners"]) => ({ profile: { ...profile, corners } });
  const moved = (i: number, axis: "x" | "y", v: Expression | null) => change(profile.corners.map((c, k) => (k === i ? { ...c, [axis]: v ?? 0 } : c)));
  return (
    <>
      {profile.corners.map((corner, i) => (
        <Group key={i} gap={4} wrap="nowrap">
          {(["x", "y"] as const).map((axis) => (
            <ExpressionField key={axis} bare label={`Corner ${i + 1}, ${axis}`} unit={units} value={corner[axis]} onPreview={(v) => draft.preview(moved(i, axis, v))} onCommit={(v) => draft.commit("Move a corner", moved(i, axis, v))} />
          ))}
          <ActionIcon variant="subtle" size="sm" aria-label={`Take corner ${i + 1} away`} disabled={profile.corners.length <= 3}
            onClick={() => draft.commit("Take a corner away", change(profile.corners.filter((_, k) => k !== i)))}>×</ActionIcon>
        </Group>
      ))}
      <Button variant="subtle" size="compact-xs" onClick={() => draft.commit("Add a corner", change([...profile.corners, { x: 0, y: 0 }]))}>Add a corner</Button>
    </>
  );
}

/** As drawn, or moved to the path and stood up square to it. */
function BringFields({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const source = usePart((s) => stepOf(s.document, profileSource(step.profile)));
  const { bring } = step;
  const points = isDrawn(source) ? source.sketch.points.map((p) => ({ value: p.id, label: `Point ${p.id}` })) : [];
  const change = (patch: Partial<NonNullable<SweepStep["bring"]>>) => ({ bring: { anchor: "middle", at: 0, turn: 0, ...bring, ...patch } });
  return (
    <>
      <SegmentedControl aria-label="Where the profile stands" data={[{ value: "drawn", label: "As drawn" }, { value: "brought", label: "Bring to path" }]}
        value={bring === null ? "drawn" : "brought"} onChange={(v) => draft.commit(v === "drawn" ? "Leave as drawn" : "Bring to path", v === "drawn" ? { bring: null } : change({}))} />
      {bring !== null && (
        <>
          <Select className="expression" label="On the path" value={bring.anchor} data={[{ value: "middle", label: "Its middle" }, { value: "origin", label: "Sketch origin" }, ...points]}
            onChange={(anchor) => anchor !== null && draft.commit("Change anchor", change({ anchor }))} />
          <ExpressionField label="At station" unit={units} value={bring.at} onPreview={(v) => draft.preview(change({ at: v ?? 0 }))} onCommit={(v) => draft.commit("Change station", change({ at: v ?? 0 }))} />
          <ExpressionField label="Turned by" unit="°" value={bring.turn} onPreview={(v) => draft.preview(change({ turn: v ?? 0 }))} onCommit={(v) => draft.commit("Turn the profile", change({ turn: v ?? 0 }))} />
        </>
      )}
    </>
  );
}

const SIDES = [{ value: "inward", label: "Inward" }, { value: "outward", label: "Outward" }, { value: "both", label: "Both" }];

function WallFields({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      <ExpressionField label="Wall" unit={units} value={step.wall} empty={step.surface ? "none" : "solid"}
        onPreview={(wall) => draft.preview({ wall })} onCommit={(wall) => draft.commit("Change wall", { wall })} />
      {step.wall !== null && <SegmentedControl aria-label="Side of the wall" data={SIDES} value={step.wall_side}
        onChange={(side) => draft.commit("Change side of the wall", { wall_side: side as SweepStep["wall_side"] })} />}
      <More label="As a surface" open={step.surface}>
        <Switch size="xs" label="As a surface: open outlines too" checked={step.surface} onChange={(e) => draft.commit("Change to a surface", { surface: e.currentTarget.checked })} />
      </More>
    </>
  );
}

const MODES = [
  { value: "turning", label: "Turning with the path" }, { value: "held", label: "Held parallel" },
  { value: "upright", label: "Upright" }, { value: "lying", label: "Lying on a surface" }, { value: "facing", label: "Facing a rail" },
];

function TurnCard({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const length = usePart((s) => s.result?.steps[step.id]?.data.length ?? 100);
  const choose = (mode: string | null) => {
    if (mode === null) return;
    const more = mode === "upright" && step.up === null ? { up: { by: "axis", axis: "Z" } as const } : {};
    draft.commit("Change orientation", { orientation: mode as SweepStep["orientation"], ...more });
  };
  const twisted = step.twist !== 0 || typeof step.twist === "object";
  return (
    <Card title="Orientation">
      <Select aria-label="Orientation" data={MODES} value={step.orientation} onChange={choose} />
      {step.orientation === "upright" && <UpPick value={step.up} onPick={(up) => draft.commit("Change what is up", { up })} />}
      {step.orientation === "lying" && <LyingFields step={step} draft={draft} />}
      {step.orientation === "facing" && (
        <SourcePick label="The rail to face" kinds={["sketch", ...ownPaths()]} value={step.facing?.step ?? ""} onPick={(id) => draft.commit("Pick rail to face", { facing: { step: id, curves: null } })} />
      )}
      <More label="Twist" open={twisted}>
        <TwistFields value={step.twist} units={units} length={length} onPreview={(twist) => draft.preview({ twist })} onCommit={(twist) => draft.commit("Change twist", { twist })} />
      </More>
      <More label="Start angle" open={step.start_angle !== 0}>
        <ExpressionField label="Start angle" unit="°" value={step.start_angle} onPreview={(v) => draft.preview({ start_angle: v ?? 0 })}
          onCommit={(v) => draft.commit("Change start angle", { start_angle: v ?? 0 })} />
      </More>
    </Card>
  );
}

/** Waits for a face to be clicked in the stage. */
function FacePick({ step, label, want, onPick }: { step: SweepStep; label: string; want: "side" | "face"; onPick: (step: string, face: string) => void }) {
  const waiting = useView((s) => s.pick?.label === label);
  const ask = () => useView.getState().set({ pick: waiting ? null : { want, before: step.id, label, take: (from, face) => {
    useView.getState().set({ pick: null });
    onPick(from, face);
  } } });
  return <Button size="compact-xs" variant={waiting ? "filled" : "default"} aria-pressed={waiting} onClick={ask}>{waiting ? "Click it in the stage…" : label}</Button>;
}

function LyingFields({ step, draft }: Shared) {
  return (
    <>
      {step.lying !== null && <p className="soft">{faceTitle(step.lying.face)}</p>}
      <FacePick step={step} label="Pick the side to lie on" want="side" onPick={(from, face) => draft.commit("Lie on a surface", { lying: { step: from, face } })} />
    </>
  );
}

function SizeCard({ step, draft }: Shared) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const length = usePart((s) => s.result?.steps[step.id]?.data.length ?? 100);
  const fields = { units, length };
  if (step.size === null && step.size_y === null) {
    return (
      <Card title="Size along the path">
        <More label="Change it along the path" open={false}>
          <SizeFields {...fields} label="Both ways" value={null} onPreview={(size) => draft.preview({ size })} onCommit={(size) => draft.commit("Change size", { size })} />
        </More>
      </Card>
    );
  }
  return (
    <Card title="Size along the path">
      <SizeFields {...fields} label={step.size_y === null ? "Both ways" : "Along x"} value={step.size} onPreview={(size) => draft.preview({ size })} onCommit={(size) => draft.commit("Change size", { size })} />
      <More label="Another along y" open={step.size_y !== null}>
        <SizeFields {...fields} label="Along y" value={step.size_y} onPreview={(size_y) => draft.preview({ size_y })} onCommit={(size_y) => draft.commit("Change size along y", { size_y })} />
      </More>
    </Card>
  );
}

function FoldChoice({ step, onChange }: { step: SweepStep; onChange: (value: boolean) => void }) {
  const folded = usePart((s) => s.result?.steps[step.id]?.messages.some((m) => m.code === "fold") ?? false);
  if (!folded && !step.build_folded) return null;
  return (
    <Button variant="default" fullWidth mt={8} onClick={() => onChange(!step.build_folded)}>
      {step.build_folded ? "Refuse to build what folds" : "Build it all the same"}
    </Button>
  );
}
