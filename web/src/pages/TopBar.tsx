import {
  ActionIcon,
  Button,
  Menu,
  Select,
  TextInput,
  Tooltip,
  useComputedColorScheme,
  useMantineColorScheme,
} from "@mantine/core";
import { useState } from "react";
import { Link } from "react-router";
import { useShallow } from "zustand/react/shallow";
import { exportUrl, fileUrl } from "../api/client";
import { openLocker } from "../ui/openLocker";
import { FORMATS } from "../state/formats";
import { savingOf, usePart, type SaveState } from "../state/part";
import { useView } from "../state/view";
import { toUnits } from "../state/units";
import { Mark } from "../ui/Mark";
import styles from "./TopBar.module.css";

const SAVE_WORDS: Record<SaveState, string> = {
  saved: "saved",
  saving: "saving…",
  waiting: "not sent yet",
  refused: "not saved",
  overtaken: "changed elsewhere",
};

export function TopBar() {
  const part = usePart((s) => s.document)!;
  const id = usePart((s) => s.id)!;
  const { canUndo, canRedo } = usePart(useShallow(({ canUndo, canRedo }) => ({ canUndo, canRedo })));
  const saveState = usePart(savingOf);
  const { undo, redo } = usePart.getState();
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme("light");
  return (
    <header className={styles.topBar}>
      <Link to="/" className={styles.home} aria-label="To the part list">
        <Mark size={28} />
      </Link>
      <PartName key={part.name} name={part.name} />
      <span className={styles.saveState} data-state={saveState} data-testid="save-state" role="status">
        {SAVE_WORDS[saveState]}
      </span>
      <span className="grow" />
      <Button variant="default" onClick={openLocker}>
        Locker
      </Button>
      <Tooltip label="Undo (Ctrl Z)">
        <ActionIcon variant="default" aria-label="Undo" disabled={!canUndo} onClick={() => void undo()}>
          ↶
        </ActionIcon>
      </Tooltip>
      <Tooltip label="Redo (Ctrl Shift Z)">
        <ActionIcon variant="default" aria-label="Redo" disabled={!canRedo} onClick={() => void redo()}>
          ↷
        </ActionIcon>
      </Tooltip>
      <Select
        aria-label="Units"
        w={74}
        data={["mm", "in"]}
        value={part.units}
        onChange={(units) =>
          units !== null &&
          units !== part.units &&
          void usePart.getState().change("Change units", (p) => toUnits(p, units))
        }
      />
      <Menu withinPortal position="bottom-end">
        <Menu.Target>
          <Button variant="default">Save as</Button>
        </Menu.Target>
        <Menu.Dropdown>
          {FORMATS.map(({ form, title, about }) => (
            <Menu.Item
              key={form}
              component="a"
              href={exportUrl(id, form)}
            >{`${title}, ${about.toLowerCase()}`}</Menu.Item>
          ))}
          <Menu.Item onClick={() => useView.getState().set({ meshFilesOpen: true })}>
            Triangles, as fine as they are wanted…
          </Menu.Item>
          <Menu.Divider />
          <Menu.Item component="a" href={fileUrl(id)}>
            Part file, JSON
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      <Tooltip label={scheme === "light" ? "Night watch" : "Day watch"}>
        <ActionIcon
          variant="default"
          aria-label="Light or dark"
          onClick={() => setColorScheme(scheme === "light" ? "dark" : "light")}
        >
          ◑
        </ActionIcon>
      </Tooltip>
      <Tooltip label="The keys (?)">
        <ActionIcon variant="default" aria-label="The keys" onClick={() => useView.getState().set({ keysOpen: true })}>
          ?
        </ActionIcon>
      </Tooltip>
    </header>
  );
}

function PartName({ name }: { name: string }) {
  const [text, setText] = useState(name);
  const commit = () => {
    const next = text.trim();
    if (next && next !== name) void usePart.getState().change(`Rename to ${next}`, (p) => ({ ...p, name: next }));
    else setText(name);
  };
  return (
    <TextInput
      className={styles.partName}
      variant="unstyled"
      aria-label="Name of the part"
      value={text}
      maxLength={80}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") e.currentTarget.blur();
      }}
    />
  );
}
