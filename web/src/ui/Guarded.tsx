/**
 * A part of the screen whose fault leaves the others standing: it says so, and can be tried again. Nothing of the part
 * is lost.
 */
import { Button } from "@mantine/core";
import type { ReactNode } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import type { Message } from "../api/types";
import { MessageLine } from "./MessageLine";
import styles from "./Guarded.module.css";

interface Props {
  /** What it is, as the beginning of a sentence. */
  what: string;
  /** When this changes, it is tried anew by itself. */
  anew?: unknown;
  children: ReactNode;
}

export function Guarded({ what, anew, children }: Props) {
  const fallback = ({ error, resetErrorBoundary }: FallbackProps) => {
    const message: Message = {
      level: "error",
      code: "screen",
      place: {},
      text: `${what} cannot be shown: ${error instanceof Error ? error.message : String(error)}`,
      way_out: "Your part is safe. Try again, or reload the page.",
    };
    return (
      <div className={styles.guarded}>
        <MessageLine message={message} />
        <Button size="compact-xs" variant="default" onClick={resetErrorBoundary}>
          Try again
        </Button>
      </div>
    );
  };
  return (
    <ErrorBoundary fallbackRender={fallback} resetKeys={[anew]}>
      {children}
    </ErrorBoundary>
  );
}
