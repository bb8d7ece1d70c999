import type { ReactNode } from "react";
import type { Message } from "../api/types";
import styles from "./MessageLine.module.css";

interface Props {
  message: Message;
  onGo?: () => void;
  children?: ReactNode;
}

const SIGNS = { error: "!", warning: "△", note: "·" } as const;

/** What, where, and the way out; a click goes there. */
export function MessageLine({ message, onGo, children }: Props) {
  const body = (
    <>
      <span className={styles.sign} aria-hidden="true">
        {SIGNS[message.level]}
      </span>
      <span>
        <span className={styles.what}>{message.text}</span>{" "}
        {message.way_out && <span className={styles.wayOut}>{message.way_out}</span>}
      </span>
    </>
  );
  return (
    <div className={styles.message} data-level={message.level} role={message.level === "error" ? "alert" : "status"}>
      {onGo ? (
        <button type="button" className={styles.messageGo} onClick={onGo} title="Go there">
          {body}
        </button>
      ) : (
        <div className={styles.messageGo}>{body}</div>
      )}
      {children && <div className={styles.messageActions}>{children}</div>}
    </div>
  );
}
