import clsx from "clsx";
import type { ReactNode } from "react";
import styles from "./DragNote.module.css";

/** A figure in the stage, beside what is dragged or measured there. */
export function DragNote({ children }: { children: ReactNode }) {
  return (
    <span className={clsx(styles.dragNote, "figures")} data-testid="drag-note">
      {children}
    </span>
  );
}
