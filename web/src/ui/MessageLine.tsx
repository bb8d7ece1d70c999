import type { ReactNode } from "react";
import type { Message } from "../api/types";
import "./MessageLine.css";

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
      <span className="sign" aria-hidden="true">
        {SIGNS[message.level]}
      </span>
      <span>
        <span className="what">{message.text}</span>{" "}
        {message.way_out && <span className="way-out">{message.way_out}</span>}
      </span>
    </>
  );
  return (
    <div className={`message ${message.level}`} role={message.level === "error" ? "alert" : "status"}>
      {onGo ? (
        <button type="button" className="message-go" onClick={onGo} title="Go there">
          {body}
        </button>
      ) : (
        <div className="message-go">{body}</div>
      )}
      {children && <div className="message-actions">{children}</div>}
    </div>
  );
}
