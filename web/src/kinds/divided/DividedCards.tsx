/** The body that is split, what splits it, and which pieces stay. */
import { Checkbox, SegmentedControl } from "@mantine/core";
import type { StepReport } from "../../api/types";
import { BodyCard } from "../../slip/BodyCard";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { PlanePick } from "../../slip/PlanePick";
import { SourcePick } from "../../slip/SourcePick";
import { bodySources } from "../../state/bodies";
import { isDrawn } from "../../state/drawings";
import { stepsBefore, usePart } from "../../state/part";
import { volume } from "../../ui/format";
import type { DividedStep } from "./step";

type Cut = DividedStep["cut"];

const WAYS = [
  { value: "plane", label: "Plane" },
  { value: "surface", label: "Surface" },
  { value: "drawing", label: "Sketch" },
];
const KEPT = [
  { value: "both", label: "Both sides" },
  { value: "ahead", label: "Ahead" },
  { value: "behind", label: "Behind" },
];

type Piece = NonNullable<StepReport["data"]["parts"]>[number];

/** The pieces on the sides that are kept, each of which may be dropped by itself. */
function PieceRows({ step, pieces }: { step: DividedStep; pieces: Piece[] }) {
  const draft = useDraft<DividedStep>(step.id);
  const units = usePart((s) => s.document?.units ?? "mm");
  const toggle = (i: number) => {
    const gone = pieces.filter((p, k) => (k === i ? p.kept : !p.kept));
    draft.commit(pieces[i]!.kept ? "Drop a piece" : "Keep a piece", {
      dropped: gone.map(({ centre: [x, y, z] }) => ({ x: `${x} mm`, y: `${y} mm`, z: `${z} mm` })),
    });
  };
  if (pieces.length < 2) return null;
  return pieces.map((p, i) => (
    <Checkbox
      key={i}
      mt={6}
      size="xs"
      label={`Piece ${i + 1}, ${volume(p.volume, units)}`}
      checked={p.kept}
      onChange={() => toggle(i)}
    />
  ));
}

export function DividedCards({ step, report }: { step: DividedStep; report: StepReport | undefined }) {
  const draft = useDraft<DividedStep>(step.id);
  const part = usePart((s) => s.document)!;
  const begin = (by: string): Cut => {
    const before = stepsBefore(part, step.id);
    if (by === "plane") return { by: "plane", plane: { kind: "principal", plane: "YZ" } };
    if (by === "drawing")
      return { by: "drawing", profile: { step: before.filter(isDrawn).at(-1)?.id ?? "", regions: null } };
    const surfaces = before.filter((s) => "surface" in s && s.surface === true);
    return { by: "surface", surface: (surfaces.at(-1) ?? before.at(-1))?.id ?? "" };
  };
  const { cut } = step;
  return (
    <>
      <BodyCard value={step.body} onPick={(body) => draft.commit("Pick a body", { body })} />
      <Card title="Split by">
        <SegmentedControl
          aria-label="What splits it"
          data={WAYS}
          value={cut.by}
          onChange={(by) => draft.commit("Split by something else", { cut: begin(by) })}
        />
        {cut.by === "plane" && (
          <PlanePick
            label="Plane"
            value={cut.plane}
            onPick={(plane) => draft.commit("Pick a plane", { cut: { by: "plane", plane } })}
          />
        )}
        {cut.by === "surface" && (
          <SourcePick
            label="Surface"
            kinds={bodySources()}
            value={cut.surface}
            onPick={(surface) => draft.commit("Pick a surface", { cut: { by: "surface", surface } })}
          />
        )}
        {cut.by === "drawing" && (
          <SourcePick
            label="Sketch"
            value={cut.profile.step}
            onPick={(id) =>
              draft.commit("Pick a sketch", { cut: { by: "drawing", profile: { step: id, regions: null } } })
            }
          />
        )}
      </Card>
      <Card title="Kept">
        <SegmentedControl
          aria-label="Pieces that are kept"
          data={KEPT}
          value={step.keep}
          onChange={(keep) => draft.commit("Keep other pieces", { keep: keep as DividedStep["keep"], dropped: [] })}
        />
        <PieceRows step={step} pieces={report?.data.parts ?? []} />
      </Card>
    </>
  );
}
