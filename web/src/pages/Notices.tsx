/** What went wrong, over the stage, until it is mended or put away. */
import { Button, CloseButton } from "@mantine/core";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { StepMessage } from "../slip/StepMessage";
import { isCurrent, usePart } from "../state/part";
import { allMessages } from "../state/roles";
import { useView } from "../state/view";
import { MessageLine } from "../ui/MessageLine";
import styles from "./Notices.module.css";

const SLOW_MS = 500;

export function Notices() {
  const notice = usePart((s) => s.notice);
  const saveState = usePart((s) => s.saveState);
  const document = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const selected = useView((s) => s.selected);
  const sketching = useView((s) => s.sketching);
  const current = usePart(isCurrent);
  const { say, takeNewer, keepAsNew } = usePart.getState();
  const navigate = useNavigate();
  const keepMine = async () => {
    const kept = await keepAsNew();
    if (kept !== null) void navigate(`/part/${kept}`);
  };
  const errors =
    document === null
      ? []
      : allMessages(document, result).filter((m) => m.message.level === "error" && m.step !== selected);
  return (
    <div className={styles.notices}>
      <BuildProgress />
      {notice !== null && (
        <div className={styles.notice}>
          <MessageLine message={notice}>
            {saveState === "overtaken" && (
              <>
                <Button onClick={() => void takeNewer()}>Take over the newer state</Button>
                <Button variant="default" onClick={() => void keepMine()}>
                  Keep mine as a new part
                </Button>
              </>
            )}
          </MessageLine>
          <CloseButton size="sm" aria-label="Put the message away" onClick={() => say(null)} />
        </div>
      )}
      {saveState === "waiting" && (
        <MessageLine
          message={{
            level: "warning",
            code: "waiting",
            text: "The server does not answer.",
            way_out: "Your change is kept and sent again.",
            place: {},
          }}
        />
      )}
      {sketching === null &&
        errors
          .slice(0, 2)
          .map(({ step, message }, i) => <StepMessage key={i} step={step} message={message} asItIs={current} />)}
    </div>
  );
}

/** Shown when a build takes longer than half a second, with a way to stop it. */
function BuildProgress() {
  const building = usePart((s) => s.buildState === "building");
  const since = usePart((s) => s.buildSince);
  const live = usePart((s) => s.live);
  const document = usePart((s) => s.document);
  const [slow, setSlow] = useState(0);
  useEffect(() => {
    if (!building) return;
    const timer = setTimeout(() => setSlow(since), SLOW_MS);
    return () => clearTimeout(timer);
  }, [building, since]);
  if (!building || slow !== since || document === null) return null;
  const done = Object.values(live).filter((s) => s !== "building").length;
  const now = document.steps.find((s) => live[s.id] === "building");
  return (
    <div className={styles.progress} role="status">
      <progress value={done} max={Math.max(1, document.steps.length)} aria-label="Build progress" />
      <span>Building {now?.name ?? "the part"}</span>
      <Button variant="default" size="compact-xs" onClick={() => usePart.getState().stopBuild()}>
        Stop
      </Button>
    </div>
  );
}
