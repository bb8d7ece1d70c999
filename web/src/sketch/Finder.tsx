/** Every command of the sketch by name. */
import { Spotlight } from "@mantine/spotlight";
import { useState } from "react";
import { finderStore, SKETCH_COMMANDS } from "./commands";
import { spokenKey } from "./sketchKeys";
import clsx from "clsx";
import entry from "../ui/entry.module.css";

export function Finder() {
  const [query, setQuery] = useState("");
  const words = query.toLowerCase().split(/\s+/).filter(Boolean);
  const found = SKETCH_COMMANDS.filter((c) =>
    words.every((w) => `${c.title} ${c.detail} ${c.group}`.toLowerCase().includes(w)),
  );
  return (
    <Spotlight.Root
      store={finderStore}
      query={query}
      onQueryChange={setQuery}
      shortcut={null}
      maxHeight={460}
      scrollable
    >
      <Spotlight.Search placeholder="Find a tool, a constraint, a command" aria-label="Search the sketch's commands" />
      <Spotlight.ActionsList>
        {Object.entries(Object.groupBy(found, (c) => c.group)).map(([group, commands]) => (
          <Spotlight.ActionsGroup key={group} label={group}>
            {commands.map((c) => (
              <Spotlight.Action key={c.id} onClick={c.run}>
                <span className={entry.title}>{c.title}</span>
                <span className={clsx(entry.detail, "soft")}>{c.detail}</span>
                {c.key && <kbd>{spokenKey(c.key)}</kbd>}
              </Spotlight.Action>
            ))}
          </Spotlight.ActionsGroup>
        ))}
        {found.length === 0 && <Spotlight.Empty>No command of the sketch answers to that.</Spotlight.Empty>}
      </Spotlight.ActionsList>
    </Spotlight.Root>
  );
}
