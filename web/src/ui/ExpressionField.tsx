/** A number, or an expression with units and named values. Previews as it is typed, is kept on Enter or leave. */
import { TextInput } from "@mantine/core";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Expression } from "../api/types";
import fields from "./fields.module.css";

interface Props {
  label: string;
  unit: string;
  value: Expression | null;
  empty?: string;
  /** Without its label in sight. */
  bare?: boolean;
  error?: string | undefined;
  onPreview?: (value: Expression | null) => void;
  onCommit: (value: Expression | null) => void;
}

/** "12" is kept as a number, "12 + wall" as it stands; nothing where nothing is allowed. */
export function parseExpression(text: string, mayBeEmpty: boolean): Expression | null | undefined {
  const plain = text.trim();
  if (plain === "") return mayBeEmpty ? null : undefined;
  return /^[-+]?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : plain;
}

export function ExpressionField({ label, unit, value, empty, bare, error, onPreview, onCommit }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const keep = useRef<(() => void) | null>(null);
  const shown = draft ?? (value === null ? "" : String(value));
  const parsed = draft === null ? value : parseExpression(draft, empty !== undefined);
  const commit = () => {
    keep.current = null;
    if (draft !== null && parsed !== undefined && parsed !== value) onCommit(parsed);
    setDraft(null);
  };
  useEffect(() => {
    keep.current = draft === null ? null : commit;
  });
  // what is typed when the field is taken away, as something else is selected meanwhile, is kept like what is left
  useLayoutEffect(() => () => keep.current?.(), []);
  return (
    <TextInput
      className={bare ? undefined : fields.expression}
      label={bare ? undefined : label || undefined}
      aria-label={label || undefined}
      value={shown}
      placeholder={empty}
      error={error}
      rightSection={unit ? <span className={fields.unit}>{unit}</span> : undefined}
      rightSectionWidth={44}
      classNames={{ input: "figures" }}
      onChange={(e) => {
        const text = e.currentTarget.value;
        setDraft(text);
        const next = parseExpression(text, empty !== undefined);
        if (next !== undefined) onPreview?.(next);
      }}
      onBlur={commit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") {
          setDraft(null);
          onPreview?.(value);
        }
      }}
    />
  );
}
