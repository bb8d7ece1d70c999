import { Button } from "@mantine/core";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { useShallow } from "zustand/react/shallow";
import { fileUrl } from "../api/client";
import { Refusal } from "../api/refusal";
import type { Message } from "../api/types";
import { useKeys } from "../commands/keys";
import { Cord } from "../cord/Cord";
import { rooms } from "../kinds/rooms";
import { Locker } from "../locker/Locker";
import { SketchMode } from "../sketch/SketchMode";
import { Slip } from "../slip/Slip";
import { isCurrent, usePart } from "../state/part";
import { JUST_OPENED, useView } from "../state/view";
import { StationStrip } from "../strip/StationStrip";
import { Guarded } from "../ui/Guarded";
import { later } from "../ui/later";
import { MessageLine } from "../ui/MessageLine";
import { KeysSheet } from "./KeysSheet";
import { MeshFiles } from "./MeshFiles";
import { Notices } from "./Notices";
import { StageMenu } from "./StageMenu";
import { TopBar } from "./TopBar";
import clsx from "clsx";
import styles from "./EditorPage.module.css";

const Stage = later<object>(() => import("../stage/Stage"));

export default function EditorPage() {
  const { id } = useParams();
  const loaded = usePart((s) => s.document !== null);
  const current = usePart(isCurrent);
  const [failed, setFailed] = useState<{ id: string; message: Message } | null>(null);
  const failure = failed !== null && failed.id === id ? failed.message : null;
  const { cord, slip, strip, sketching } = useView(
    useShallow(({ cord, slip, strip, sketching }) => ({ cord, slip, strip, sketching })),
  );
  const selected = useView((s) => s.selected);
  useKeys();
  useEffect(() => {
    useView.getState().set(JUST_OPENED);
    usePart
      .getState()
      .open(id!)
      .catch((error: unknown) => {
        if (error instanceof Refusal) setFailed({ id: id!, message: error.detail });
        else throw error;
      });
    return () => usePart.getState().close();
  }, [id]);
  if (failure !== null) {
    return (
      <main className={styles.lost}>
        <MessageLine message={failure}>
          {failure.code !== "no-part" && (
            <Button component="a" href={fileUrl(id!)} download>
              Save its document as a file
            </Button>
          )}
        </MessageLine>
        <Link to="/">To the part list</Link>
      </main>
    );
  }
  if (!loaded) return <main className={clsx(styles.lost, "soft")}>Opening the part…</main>;
  const drawing = sketching !== null;
  const columns = `${cord && !drawing ? "250px" : "0"} minmax(0, 1fr) ${slip && !drawing ? "310px" : "0"}`;
  const rows = `44px minmax(0, 1fr) ${strip && !drawing ? "auto" : "0"}`;
  return (
    <div
      className={styles.editor}
      data-current={current}
      style={{ gridTemplateColumns: columns, gridTemplateRows: rows }}
    >
      <TopBar />
      <div className={styles.placeCord}>
        {cord && !drawing && (
          <Guarded what="The cord">
            <Cord />
          </Guarded>
        )}
      </div>
      <main className={styles.placeStage}>
        <Guarded what="The stage">
          <Stage waiting={<p className={clsx("soft", styles.stageWait)}>Setting up the stage…</p>} />
        </Guarded>
        {drawing && (
          <Guarded key={sketching} what="The sketch">
            <SketchMode id={sketching} />
          </Guarded>
        )}
        <Notices />
        {!drawing && <StageMenu />}
      </main>
      <div className={styles.placeSlip}>
        {slip && !drawing && (
          <Guarded what="The slip" anew={selected}>
            <Slip />
          </Guarded>
        )}
      </div>
      <div className={styles.placeStrip}>
        {strip && !drawing && (
          <Guarded what="The station strip" anew={selected}>
            <StationStrip />
          </Guarded>
        )}
      </div>
      <Locker />
      <KeysSheet />
      <MeshFiles />
      {rooms().map(({ kind, Window }) => Window && <Window key={kind} />)}
    </div>
  );
}
