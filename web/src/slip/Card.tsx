import type { ReactNode } from "react";
import styles from "./Card.module.css";

/** A group of inputs in the slip, in the colour of what it takes. */
export function Card({
  title,
  tone,
  children,
}: {
  title: string;
  tone?: "path" | "section" | "rail";
  children: ReactNode;
}) {
  return (
    <section className={styles.card} data-tone={tone}>
      <h3>{title}</h3>
      {children}
    </section>
  );
}
