import { useState, type ReactNode } from "react";
import styles from "./Card.module.css";

/** Shown when something in it is chosen, or when it is asked for. */
export function More({ label, open, children }: { label: string; open: boolean; children: ReactNode }) {
  const [asked, setAsked] = useState(false);
  if (open || asked) return <>{children}</>;
  return (
    <button type="button" className={styles.more} onClick={() => setAsked(true)}>
      {label}…
    </button>
  );
}
