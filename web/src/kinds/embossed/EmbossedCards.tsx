/** The body whose side is raised, the outlines, and by how much. */
import { SegmentedControl } from "@mantine/core";
import { BodyCard } from "../../slip/BodyCard";
import { Card } from "../../slip/Card";
import { useDraft } from "../../slip/draft";
import { RegionPick } from "../../slip/RegionPick";
import { SourcePick } from "../../slip/SourcePick";
import { isSketch } from "../../state/bodies";
import { faceTitle } from "../../state/faceTitle";
import { fieldFor } from "../../slip/StepField";
import type { EmbossedStep } from "./step";

const Field = fieldFor<EmbossedStep>();

const WAYS = [
  { value: "raised", label: "Raised" },
  { value: "sunk", label: "Sunk" },
];

export function EmbossedCards({ step }: { step: EmbossedStep }) {
  const draft = useDraft<EmbossedStep>(step.id);
  const { profile } = step;
  return (
    <>
      <BodyCard value={step.body} onPick={(body) => draft.commit("Pick a body", { body })} />
      <Card title="Outline" tone="section">
        <SourcePick
          label="Outline"
          value={profile.step}
          onPick={(id) => draft.commit("Pick an outline", { profile: { step: id, regions: null } })}
        />
        {isSketch(profile) ? (
          <RegionPick
            profile={profile.step}
            value={profile.regions}
            onPick={(regions) => draft.commit("Pick regions", { profile: { step: profile.step, regions } })}
          />
        ) : (
          <p className="soft">{faceTitle(profile.face)}</p>
        )}
      </Card>
      <Card title="Height">
        <SegmentedControl
          aria-label="Raised or sunk"
          data={WAYS}
          value={step.way}
          onChange={(way) => draft.commit("Raise or sink it", { way: way as EmbossedStep["way"] })}
        />
        <Field of="height" />
      </Card>
    </>
  );
}
