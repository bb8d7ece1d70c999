/** The bars of the sketch: tools at the left, what goes on the selection above. */
import { Button, Tooltip } from "@mantine/core";
import { usePart } from "../state/part";
import { ACTIONS } from "./actions";
import { choose, constrain, finder, leaveSketch, pathOfPlane } from "./commands";
import { applies } from "./edit/constraints";
import { CONSTRAINTS, DRAW_TOOLS, EDIT_TOOLS, spokenKey, TOOLS, type ToolEntry } from "./sketchKeys";
import { useSketch } from "./sketchStore";
import { ToolGlyph } from "./ToolGlyph";
import clsx from "clsx";
import styles from "./ToolBar.module.css";

const MARKING = TOOLS.filter((t) => t.tool === "select" || t.tool === "dimension");

export function ToolBar({ name }: { name: string }) {
  const tool = useSketch((s) => s.tool);
  const hint = TOOLS.find((t) => t.tool === tool)!.hint;
  return (
    <>
      <div className={styles.toolBar} role="toolbar" aria-label="Drawing tools">
        <Tools entries={MARKING} />
        <Tools entries={DRAW_TOOLS} />
        <Tools entries={EDIT_TOOLS} />
      </div>
      <div className={styles.sketchHead}>
        <span>
          <strong>{name}</strong>
        </span>
        <span className="soft">{hint}</span>
        <Button variant="default" onClick={() => finder.open()}>
          Find <kbd>/</kbd>
        </Button>
        <Button onClick={leaveSketch}>Done</Button>
      </div>
      <SelectionBar />
    </>
  );
}

function Tools({ entries }: { entries: ToolEntry[] }) {
  const tool = useSketch((s) => s.tool);
  return (
    <div className={styles.tools}>
      {entries.map((t) => (
        <Tooltip key={t.tool} label={t.hint} position="right" openDelay={600} multiline w={250}>
          <button
            type="button"
            className={styles.tool}
            aria-pressed={tool === t.tool}
            aria-label={t.title}
            onClick={() => useSketch.getState().use(t.tool)}
          >
            <ToolGlyph tool={t.tool} />
            <span>{t.title}</span>
            <kbd>{spokenKey(t.key).replace("Shift ", "⇧")}</kbd>
          </button>
        </Tooltip>
      ))}
    </div>
  );
}

/** With nothing selected it says what selecting is for; else only what goes on the selection. */
function SelectionBar() {
  const selection = useSketch((s) => s.selection);
  const sketch = useSketch((s) => s.live?.sketch);
  const tool = useSketch((s) => s.tool);
  usePart((s) => s.document);
  if (sketch === undefined || selection.length === 0 || tool === "dimension") return null;
  const holds = CONSTRAINTS.filter(
    (c) => applies(sketch, c.kind, selection) && (c.kind !== "on_path" || pathOfPlane() !== null),
  );
  const acts = ACTIONS.filter((a) => a.ready(sketch, selection));
  return (
    <div className={styles.selectionBar}>
      {holds.length > 0 && (
        <div className={styles.constraintBar} role="toolbar" aria-label="Constraints on what is selected">
          {holds.map((c) => (
            <Tooltip key={c.kind} label={`Hold it so (${spokenKey(c.key)})`}>
              <button type="button" className={styles.constraint} onClick={() => constrain(c)}>
                {c.title}
              </button>
            </Tooltip>
          ))}
        </div>
      )}
      {acts.length > 0 && (
        <div className={styles.constraintBar} role="toolbar" aria-label="What to do with what is selected">
          {acts.map((a) => (
            <Tooltip key={a.id} label={`${a.hint} (${spokenKey(a.key)})`} multiline w={260}>
              <button type="button" className={clsx(styles.constraint, styles.act)} onClick={() => choose(a)}>
                {a.title}
              </button>
            </Tooltip>
          ))}
        </div>
      )}
    </div>
  );
}
