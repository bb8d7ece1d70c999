/** A place on an earlier path: which, and the station from its start or its end. */
import { Button, Select } from "@mantine/core";
import type { PathPlace } from "../api/types";
import { stepsBefore, usePart } from "../state/part";
import { pathSources } from "../state/paths";
import { ExpressionField } from "../ui/ExpressionField";
import { SourcePick } from "./SourcePick";
import fields from "../ui/fields.module.css";

const FROM = [
  { value: "start", label: "from start" },
  { value: "end", label: "from end" },
];

export function PathPlaceFields({
  label,
  at,
  onPick,
}: {
  label: string;
  at: PathPlace;
  onPick: (at: PathPlace) => void;
}) {
  return (
    <div className={fields.pathPlace}>
      <SourcePick
        label={`Path of ${label}`}
        kinds={pathSources()}
        value={at.path.step}
        onPick={(step) => onPick({ ...at, path: { step, curves: null } })}
      />
      <ExpressionField
        bare
        unit=""
        label={`Station of ${label}`}
        value={at.station}
        onCommit={(v) => onPick({ ...at, station: v ?? 0 })}
      />
      <Select
        aria-label={`Where the station of ${label} counts from`}
        data={FROM}
        value={at.from_end ? "end" : "start"}
        onChange={(v) => v !== null && onPick({ ...at, from_end: v === "end" })}
      />
    </div>
  );
}

/** The end of the last path before a step, as a place to begin with. */
export function OnPath({ before, onPick }: { before: string; onPick: (at: PathPlace) => void }) {
  const path = usePart((s) =>
    s.document === null
      ? undefined
      : stepsBefore(s.document, before)
          .filter((x) => pathSources().includes(x.kind))
          .at(-1),
  );
  if (path === undefined) return null;
  return (
    <Button size="compact-xs" variant="default" onClick={() => onPick(lastEnd(path.id))}>
      On a path
    </Button>
  );
}

export const lastEnd = (step: string): PathPlace => ({
  by: "path",
  path: { step, curves: null },
  station: 0,
  from_end: true,
});
