/** The three components of a direction in a row, under the coordinates of the point that it belongs to. */
import type { Direction, Expression } from "../api/types";
import { ExpressionField } from "../ui/ExpressionField";

interface Props {
  /** What each field is called, after its axis: "Direction x at point 2". */
  of: string;
  name: string;
  value: Direction;
  onPreview: (value: Direction) => void;
  onCommit: (value: Direction) => void;
}

export function DirectionFields({ of, name, value, onPreview, onCommit }: Props) {
  return (["x", "y", "z"] as const).map((axis) => {
    const put = (v: Expression | null): Direction => ({ ...value, [axis]: v ?? 0 });
    return (
      <ExpressionField
        key={axis}
        bare
        unit=""
        label={`${name} ${axis} at ${of}`}
        value={value[axis]}
        onPreview={(v) => onPreview(put(v))}
        onCommit={(v) => onCommit(put(v))}
      />
    );
  });
}
