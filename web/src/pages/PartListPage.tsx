import { ActionIcon, Button, FileButton, Menu, Text, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, fileUrl, pictureUrl } from "../api/client";
import { Refusal } from "../api/refusal";
import type { PartSummary } from "../api/types";
import { MessageLine } from "../ui/MessageLine";
import { Mark } from "../ui/Mark";
import styles from "./PartListPage.module.css";

const PICTURES_MS = 2500;

export function PartListPage() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [search, setSearch] = useState("");
  const parts = useQuery({
    queryKey: ["parts"],
    queryFn: api.parts,
    refetchInterval: (query) => (query.state.data?.some((p) => p.demo && !p.picture) ? PICTURES_MS : false),
  });
  const create = useMutation({ mutationFn: () => api.create("New part"), onSuccess: (p) => navigate(`/part/${p.id}`) });
  const upload = useMutation({
    mutationFn: async (file: File) => api.openFile(await file.text()),
    onSuccess: (p) => navigate(`/part/${p.id}`),
  });
  const copy = useMutation({
    mutationFn: async (part: PartSummary) => {
      const { document } = await api.part(part.id);
      return api.openFile(JSON.stringify({ ...document, name: `${part.name} copy` }));
    },
    onSuccess: (p) => navigate(`/part/${p.id}`),
  });
  const remove = useMutation({
    mutationFn: (id: string) => api.remove(id),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["parts"] }),
  });
  const found = (parts.data ?? []).filter((p) => p.name.toLowerCase().includes(search.toLowerCase()));
  const own = found.filter((p) => !p.demo);
  const demo = found.filter((p) => p.demo);
  const failure = [parts.error, create.error, upload.error, copy.error, remove.error].find((e) => e instanceof Refusal);

  return (
    <main className={styles.listPage}>
      <header className={styles.listHead}>
        <Mark size={44} />
        <div>
          <h1>Lead Line</h1>
          <p className="soft">Draw a path and a profile, sweep them into exact solids.</p>
        </div>
        <span className="grow" />
        <TextInput
          aria-label="Search parts"
          placeholder="Search parts"
          value={search}
          w={190}
          onChange={(e) => setSearch(e.currentTarget.value)}
        />
        <Button variant="default" component={Link} to="/shelf">
          The shelf
        </Button>
        <FileButton accept="application/json,.json" onChange={(file) => file && upload.mutate(file)}>
          {(props) => (
            <Button variant="default" {...props}>
              Open part file
            </Button>
          )}
        </FileButton>
        <Button onClick={() => create.mutate()} loading={create.isPending}>
          New part
        </Button>
      </header>
      {failure && <MessageLine message={failure.detail} />}
      <PartShelf
        title="Your parts"
        parts={own}
        onCopy={(p) => copy.mutate(p)}
        onRemove={(p) => remove.mutate(p.id)}
        empty="Nothing here yet. Begin a new part, or open one of the demo parts below and change it."
      />
      <PartShelf
        title="Demo parts of the Fenlark marsh pump"
        parts={demo}
        onCopy={(p) => copy.mutate(p)}
        onRemove={(p) => remove.mutate(p.id)}
        empty={parts.isPending ? "Loading…" : "No demo part matches."}
      />
    </main>
  );
}

interface ShelfProps {
  title: string;
  parts: PartSummary[];
  empty: string;
  onCopy: (part: PartSummary) => void;
  onRemove: (part: PartSummary) => void;
}

const DAY = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });

function dayOf(changed: string): string {
  const when = new Date(changed);
  const time = when.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  return when.toDateString() === new Date().toDateString() ? `today ${time}` : DAY.format(when);
}

function PartShelf({ title, parts, empty, onCopy, onRemove }: ShelfProps) {
  const [sure, setSure] = useState<string | null>(null);
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      {parts.length === 0 && <p className="soft">{empty}</p>}
      <div className={styles.shelf}>
        {parts.map((part) => (
          <article key={part.id} className={styles.partCard}>
            <Link className={styles.partOpen} to={`/part/${part.id}`} aria-label={`Open ${part.name}`}>
              {part.picture ? (
                <img src={pictureUrl(part)} alt={`${part.name}, drawn`} loading="lazy" />
              ) : (
                <span className="no-picture soft">{part.demo ? "drawing its picture…" : "not built yet"}</span>
              )}
            </Link>
            <footer>
              <Text fw={600} truncate>
                {part.name}
              </Text>
              <span className="soft">{dayOf(part.changed)}</span>
              <Menu withinPortal onClose={() => setSure(null)}>
                <Menu.Target>
                  <ActionIcon variant="subtle" color="gray" aria-label={`More for ${part.name}`}>
                    ⋯
                  </ActionIcon>
                </Menu.Target>
                <Menu.Dropdown>
                  <Menu.Item component="a" href={fileUrl(part.id)}>
                    Save as part file
                  </Menu.Item>
                  <Menu.Item onClick={() => onCopy(part)}>Make a copy</Menu.Item>
                  <Menu.Divider />
                  <Menu.Item
                    color="madder"
                    closeMenuOnClick={sure === part.id}
                    onClick={() => (sure === part.id ? onRemove(part) : setSure(part.id))}
                  >
                    {sure === part.id ? "Delete it with all its revisions" : "Delete…"}
                  </Menu.Item>
                </Menu.Dropdown>
              </Menu>
            </footer>
          </article>
        ))}
      </div>
    </section>
  );
}
