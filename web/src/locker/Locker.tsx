/** The locker: what fits the selection first, then everything by intent, with search. */
import { Spotlight } from "@mantine/spotlight";
import { useMemo, useState } from "react";
import type { Command } from "../commands/command";
import { COMMANDS, proposals } from "../commands/commands";
import { useView } from "../state/view";
import { usePart } from "../state/part";
import clsx from "clsx";
import entry from "../ui/entry.module.css";

export function Locker() {
  const [query, setQuery] = useState("");
  const selected = useView((s) => s.selected);
  const document = usePart((s) => s.document);
  const fitting = useMemo(() => {
    return selected === undefined || document === undefined ? [] : proposals();
  }, [selected, document]);
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const found = COMMANDS.filter((c) =>
    words.every((w) => `${c.title} ${c.detail} ${c.intent}`.toLowerCase().includes(w)),
  );
  const named = (c: Command) => words.length > 0 && words.every((w) => c.title.toLowerCase().includes(w));
  const groups = [
    ["Called so", found.filter(named)] as const,
    ...Object.entries(
      Object.groupBy(
        found.filter((c) => !named(c)),
        (c) => c.intent,
      ),
    ),
  ].filter(([, commands]) => commands !== undefined && commands.length > 0);
  return (
    <Spotlight.Root query={query} onQueryChange={setQuery} shortcut={null} maxHeight={460} scrollable>
      <Spotlight.Search placeholder="Add a step, or find a command" aria-label="Search the locker" />
      <Spotlight.ActionsList>
        {query === "" && (
          <Spotlight.ActionsGroup label="Fits what is selected">
            {fitting.map((c) => (
              <Entry key={`fit-${c.id}`} command={c} />
            ))}
          </Spotlight.ActionsGroup>
        )}
        {groups.map(([intent, commands]) => (
          <Spotlight.ActionsGroup key={intent} label={intent}>
            {commands.map((c) => (
              <Entry key={c.id} command={c} />
            ))}
          </Spotlight.ActionsGroup>
        ))}
        {found.length === 0 && <Spotlight.Empty>Nothing in the locker answers to that.</Spotlight.Empty>}
      </Spotlight.ActionsList>
    </Spotlight.Root>
  );
}

function Entry({ command }: { command: Command }) {
  return (
    <Spotlight.Action onClick={command.run}>
      <span className={entry.title}>{command.title}</span>
      <span className={clsx(entry.detail, "soft")}>{command.detail}</span>
      {command.keys && (
        <kbd className={entry.keys}>{command.keys.replace("mod+", "Ctrl ").replace("shift+", "Shift ")}</kbd>
      )}
    </Spotlight.Action>
  );
}
