/** A cell of a table in which one can write: the text is kept on Enter or leave. */
import { useState } from "react";
import styles from "./Cell.module.css";

interface CellProps {
  label: string;
  value: string;
  placeholder?: string;
  onKeep: (text: string) => void;
}

export function Cell({ label, value, placeholder, onKeep }: CellProps) {
  const [draft, setDraft] = useState<string | null>(null);
  return (
    <input
      className={styles.cell}
      aria-label={label}
      placeholder={placeholder}
      value={draft ?? value}
      onChange={(e) => setDraft(e.currentTarget.value)}
      onBlur={() => {
        if (draft !== null && draft.trim() !== value) onKeep(draft.trim());
        setDraft(null);
      }}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") setDraft(null);
      }}
    />
  );
}
