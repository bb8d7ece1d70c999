import { ActionIcon, Button, FileButton, Menu, Text, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, fileUrl, pictureUrl, Refusal } from "../api/client";
import type { PartSummary } from "../api/types";
import { MessageLine } from "../ui/MessageLine";
import { Mark } from "../ui/Mark";
import "./PartListPage.css";

const PICTURES_MS = 2500;

export function PartListPage() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [search, setSearch] = useState("");
  const parts = useQuery({
    queryKey: ["parts"], queryFn: api.parts,
    refetchInterval: (query) => (query.state.data?.some((p) => p.demo && !p.picture) ? PICTURES_MS : false),
  });
  const create = useMutation({ mutationFn: () => api.create("New part"), onSuccess: (p) => navigate(`/part/${p.id}`) });
  const upload = useMutation({
    mutationFn: async (file: File) => api.openFile(await file.text()),
    onSuccess: (p) => navigate(`/part/${p.id}`),
  });
  const remove = useMutation({
    mutationFn: (id: string) => api.remove(id),
    onSuccess: () => queries.invalidateQueries({ queryKey: ["parts"] }),
  });
  const found = (parts.data ?? []).filter((p) => p.name.toLowerCase().includes(search.toLowerCase()));
  const own = found.filter((p) => !p.demo);
  const demo = found.filter((p) => p.demo);
  const failure = [parts.error, create.error, upload.error, remove.error].find((e) => e instanceof Refusal) as Refusal | undefined;

  return (
    <main className="list-page">
      <header className="list-head">
        <Mark size={44} />
        <div>
          <h1>Lead Line</h1>
          <p className="soft">Draw a path and a profile, sweep them into exact solids.</p>
        </div>
        <span className="grow" />
        <TextInput aria-label="Search parts" placeholder="Search parts" value={search} w={190}
          onChange={(e) => setSearch(e.currentTarget.value)} />
        <FileButton accept="application/json,.json" onChange={(file) => file && upload.mutate(file)}>
          {(props) => <Button variant="default" {...props}>Open part file</Button>}
        </FileButton>
        <Button onClick={() => create.mutate()} loading={create.isPending}>New part</Button>
      </header>
      {failure && <MessageLine message={failure.detail} />}
      <PartShelf title="Your parts" parts={own} onOpen={(p) => navigate(`/part/${p.id}`)} onRemove={(p) => remove.mutate(p.id)}
        empty="Nothing here yet. Begin a new part, or open one of the demo parts below and change it." />
      <PartShelf title="Demo parts of the Fenlark marsh pump" parts={demo} onOpen={(p) => navigate(`/part/${p.id}`)}
        onRemove={(p) => remove.mutate(p.id)} empty={parts.isPending ? "Loading…" : "No demo part matches."} />
    </main>
  );
}

interface ShelfProps {
  title: string;
  parts: PartSummary[];
  empty: string;
  onOpen: (part: PartSummary) => void;
  onRemove: (part: PartSummary) => void;
}

function PartShelf({ title, parts, empty, onOpen, onRemove }: ShelfProps) {
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      {parts.length === 0 && <p className="soft">{empty}</p>}
      <div className="shelf">
        {parts.map((part) => (
          <article key={part.id} className="part-card">
            <button type="button" className="part-open" onClick={() => onOpen(part)} aria-label={`Open ${part.name}`}>
              {part.picture
                ? <img src={pictureUrl(part)} alt={`Picture of ${part.name}`} />
                : <span className="no-picture soft">{part.demo ? "drawing its picture…" : "not built yet"}</span>}
            </button>
            <footer>
              <Text fw={600} truncate>{part.name}</Text>
              <span className="soft figures">{new Date(part.changed).toLocaleDateString()}</span>
              <Menu withinPortal>
                <Menu.Target><ActionIcon variant="subtle" color="gray" aria-label={`More for ${part.name}`}>⋯</ActionIcon></Menu.Target>
                <Menu.Dropdown>
                  <Menu.Item component="a" href={fileUrl(part.id)}>Save as part file</Menu.Item>
                  <Menu.Item color="madder" onClick={() => onRemove(part)}>Delete</Menu.Item>
                </Menu.Dropdown>
              </Menu>
            </footer>
          </article>
        ))}
      </div>
    </section>
  );
}
