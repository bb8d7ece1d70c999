/** A row of a list, with what takes it away. */
import { ActionIcon } from "@mantine/core";
import type { ReactNode } from "react";
import fields from "../ui/fields.module.css";

interface Props {
  /** What the button that takes it away is called. */
  away: string;
  disabled?: boolean;
  onAway: () => void;
  children: ReactNode;
}

export function ListRow({ away, disabled, onAway, children }: Props) {
  return (
    <div className={fields.joinedRow}>
      {children}
      <ActionIcon variant="subtle" color="gray" size="sm" aria-label={away} disabled={disabled} onClick={onAway}>
        ×
      </ActionIcon>
    </div>
  );
}
