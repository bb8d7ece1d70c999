/** The sizes of a section without a sketch. */
import { ActionIcon, Button, Group } from "@mantine/core";
import type { Expression, QuickProfile } from "../api/types";
import { usePart } from "../state/part";
import { ExpressionField } from "../ui/ExpressionField";

export const QUICK_KINDS: { value: QuickProfile["quick"]; label: string }[] = [
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
const SIZES: Record<QuickProfile["quick"], [size: "width" | "height" | "wall", label: string][]> = {
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

/** Another kind of section, with the sizes that it has in common with the one before. */
export function quickOf(quick: QuickProfile["quick"], before: QuickProfile | null): QuickProfile {
  const now = before ?? { quick, width: 20, height: 0, wall: 0, corners: [] };
  const or = (size: Expression, otherwise: Expression) => (size === 0 ? otherwise : size);
  return {
    quick,
    width: or(now.width, 20),
    height: or(now.height, 8),
    wall: quick === "ring" ? or(now.wall, 2) : now.wall,
    corners: quick === "polygon" && now.corners.length < 3 ? TRIANGLE : now.corners,
  };
}

interface Props {
  profile: QuickProfile;
  onPreview: (profile: QuickProfile) => void;
  onCommit: (label: string, profile: QuickProfile) => void;
}

export function QuickFields({ profile, onPreview, onCommit }: Props) {
  const units = usePart((s) => s.document?.units ?? "mm");
  if (profile.quick === "polygon") return <Corners profile={profile} onPreview={onPreview} onCommit={onCommit} />;
  return SIZES[profile.quick].map(([size, label]) => (
    <ExpressionField
      key={size}
      label={label}
      unit={units}
      value={profile[size]}
      onPreview={(v) => onPreview({ ...profile, [size]: v ?? 0 })}
      onCommit={(v) => onCommit(`Change ${size}`, { ...profile, [size]: v ?? 0 })}
    />
  ));
}

/** The corners of a polygon, a row each. */
function Corners({ profile, onPreview, onCommit }: Props) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const change = (corners: QuickProfile["corners"]) => ({ ...profile, corners });
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
              onPreview={(v) => onPreview(moved(i, axis, v))}
              onCommit={(v) => onCommit("Move a corner", moved(i, axis, v))}
            />
          ))}
          <ActionIcon
            variant="subtle"
            size="sm"
            aria-label={`Take corner ${i + 1} away`}
            disabled={profile.corners.length <= 3}
            onClick={() => onCommit("Take a corner away", change(profile.corners.filter((_, k) => k !== i)))}
          >
            ×
          </ActionIcon>
        </Group>
      ))}
      <Button
        variant="subtle"
        size="compact-xs"
        onClick={() => onCommit("Add a corner", change([...profile.corners, { x: 0, y: 0 }]))}
      >
        Add a corner
      </Button>
    </>
  );
}
