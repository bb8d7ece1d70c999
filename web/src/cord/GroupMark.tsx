/** The head of a group on the cord: it folds, and is shown, switched off, copied and deleted with all it holds. */
import { ActionIcon, Menu } from "@mantine/core";
import { useState } from "react";
import type { Part } from "../api/types";
import { copied, ungrouped, withGroup, type Group } from "../state/groups";
import { usePart } from "../state/part";
import { removeStep } from "../state/steps";
import { useView } from "../state/view";
import { NameField } from "../ui/NameField";
import { ROW } from "./rows";
import styles from "./Cord.module.css";

export function GroupMark({ part, group, row }: { part: Part; group: Group; row: number }) {
  const { change } = usePart.getState();
  const [renaming, setRenaming] = useState(false);
  const unseen = useView((s) => group.steps.every((id) => s.unseen.includes(id)));
  const faded = useView((s) => group.steps.every((id) => s.faded.includes(id)));
  const own = part.steps.filter((s) => group.steps.includes(s.id));
  const off = own.every((s) => s.off);
  const fold = () =>
    void change(group.folded ? "Unfold a group" : "Fold a group", (p) =>
      withGroup(p, group.id, (g) => ({ ...g, folded: !g.folded })),
    );
  const veil = () => {
    const { unseen: now, set } = useView.getState();
    const rest = now.filter((id) => !group.steps.includes(id));
    set({ unseen: unseen ? rest : [...rest, ...group.steps] });
  };
  const rename = (name: string | null) => {
    setRenaming(false);
    if (name !== null) void change(`Rename to ${name}`, (p) => withGroup(p, group.id, (g) => ({ ...g, name })));
  };
  return (
    <div className={styles.group} style={{ top: row * ROW, height: ROW }} data-group={group.id}>
      <button
        type="button"
        className={styles.groupFold}
        aria-expanded={!group.folded}
        aria-label={`${group.folded ? "Unfold" : "Fold"} ${group.name}`}
        onClick={fold}
      >
        {group.folded ? "▸" : "▾"}
      </button>
      {renaming ? (
        <NameField label="Name of the group" name={group.name} className={styles.markName} onDone={rename} />
      ) : (
        <button type="button" className={styles.markOpen} onClick={fold} onDoubleClick={() => setRenaming(true)}>
          <span className={styles.markText}>
            <span className={styles.groupTitle}>
              {group.name}
              {unseen && <span className={styles.markHidden}> hidden</span>}
              {off && <span className={styles.markHidden}> off</span>}
            </span>
            <span className={styles.markFigure}>
              {own.length} step{own.length === 1 ? "" : "s"}
            </span>
          </span>
        </button>
      )}
      <Menu withinPortal position="right-start" returnFocus={false}>
        <Menu.Target>
          <ActionIcon
            className={styles.markMenu}
            variant="subtle"
            color="gray"
            size="sm"
            aria-label={`More for ${group.name}`}
          >
            ⋯
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => setRenaming(true)}>Rename</Menu.Item>
          <Menu.Item onClick={veil}>{unseen ? "Show in the stage" : "Hide in the stage"}</Menu.Item>
          <Menu.Item onClick={() => useView.getState().fade(group.steps)}>
            {faded ? "Show plainly" : "Fade in the stage"}
          </Menu.Item>
          <Menu.Item
            onClick={() =>
              void change(off ? "Switch a group on" : "Switch a group off", (p) => ({
                ...p,
                steps: p.steps.map((s) => (group.steps.includes(s.id) ? { ...s, off: !off } : s)),
              }))
            }
          >
            {off ? "Switch on" : "Switch off"}
          </Menu.Item>
          <Menu.Item onClick={() => void change(`Copy ${group.name}`, (p) => copied(p, group.steps, group))}>
            Copy with all it holds
          </Menu.Item>
          <Menu.Item onClick={() => void change(`Ungroup ${group.name}`, (p) => ungrouped(p, group.steps))}>
            Ungroup
          </Menu.Item>
          <Menu.Divider />
          <Menu.Item
            color="madder"
            onClick={() => {
              useView.getState().select(null);
              void change(`Delete ${group.name}`, (p) => group.steps.reduce(removeStep, p));
            }}
          >
            Delete with all it holds
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}
