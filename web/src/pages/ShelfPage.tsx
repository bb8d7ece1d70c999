/** The shelf: tables of stock, looked through, changed, copied, and moved in and out as CSV. */
import { ActionIcon, Button, FileButton, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import clsx from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import { api, shelfUrl } from "../api/client";
import { Refusal } from "../api/refusal";
import type { Shelf, StockRow } from "../api/types";
import { matches } from "../slip/StockPicker";
import { Cell } from "../ui/Cell";
import { Mark } from "../ui/Mark";
import { MessageLine } from "../ui/MessageLine";
import table from "../ui/table.module.css";
import styles from "./ShelfPage.module.css";

type Change = (shelf: Shelf) => Partial<Pick<Shelf, "name" | "rows">>;

export function ShelfPage() {
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<string | null>(null);
  const [search, setSearch] = useState("");
  const shelves = useQuery({ queryKey: ["shelves"], queryFn: api.shelves });
  const again = () => queries.invalidateQueries({ queryKey: ["shelves"] });
  const all = shelves.data ?? [];
  const shelf = all.find((s) => s.id === chosen) ?? all.find((s) => s.sort === "tubes") ?? all[0];
  // one after the other, each on what the one before has come to
  const save = useMutation({
    scope: { id: "shelf" },
    mutationFn: ({ id, change }: { id: string; change: Change }) => {
      const now = queries.getQueryData<Shelf[]>(["shelves"])!.find((s) => s.id === id)!;
      const { version, name, rows } = { ...now, ...change(now) };
      return api.saveShelf(id, { version, name, rows });
    },
    onSuccess: (saved) =>
      queries.setQueryData<Shelf[]>(["shelves"], (known) => known?.map((s) => (s.id === saved.id ? saved : s))),
    onError: again,
  });
  const copy = useMutation({
    mutationFn: (id: string) => api.copyShelf(id),
    onSuccess: (made) => setChosen(made.id),
    onSettled: again,
  });
  const remove = useMutation({ mutationFn: (id: string) => api.removeShelf(id), onSettled: again });
  const read = useMutation({
    mutationFn: async (given: { shelf: Shelf; file: File }) =>
      api.readShelf(given.shelf.id, given.shelf.version, await given.file.text()),
    onSettled: again,
  });
  const failure = [save.error, copy.error, remove.error, read.error, shelves.error].find((e) => e instanceof Refusal);
  return (
    <main className={styles.page}>
      <header className={styles.head}>
        <Link to="/" aria-label="To the part list">
          <Mark size={36} />
        </Link>
        <div>
          <h1>The shelf</h1>
          <p className="soft">Stock that parts take their sizes from; a value that follows a row changes with it.</p>
        </div>
        <span className="grow" />
        <TextInput
          aria-label="Search the shelf"
          placeholder="Part of a name, a material or a size"
          value={search}
          w={260}
          onChange={(e) => setSearch(e.currentTarget.value)}
        />
      </header>
      {failure !== undefined && <MessageLine message={failure.detail} />}
      <div className={styles.body}>
        <nav className={styles.shelves} aria-label="Shelves">
          {all.map((s) => (
            <button key={s.id} data-chosen={s.id === shelf?.id} onClick={() => setChosen(s.id)}>
              {s.name} <span className="soft">{s.rows.length}</span>
            </button>
          ))}
        </nav>
        {shelf && (
          <section>
            <div className={styles.tools}>
              <Cell
                key={shelf.id}
                label="Name of the shelf"
                value={shelf.name}
                onKeep={(name) => name && save.mutate({ id: shelf.id, change: () => ({ name }) })}
              />
              <Button size="compact-sm" variant="default" onClick={() => copy.mutate(shelf.id)}>
                Copy the shelf
              </Button>
              <Button size="compact-sm" variant="default" onClick={() => remove.mutate(shelf.id)}>
                Take it away
              </Button>
              <Button size="compact-sm" variant="default" component="a" href={shelfUrl(shelf.id)} download>
                Save as CSV
              </Button>
              <FileButton accept=".csv,text/csv" onChange={(file) => file && read.mutate({ shelf, file })}>
                {(props) => (
                  <Button size="compact-sm" variant="default" {...props}>
                    Read a CSV file
                  </Button>
                )}
              </FileButton>
            </div>
            <Rows
              key={shelf.id}
              shelf={shelf}
              search={search}
              onChange={(change) => save.mutate({ id: shelf.id, change })}
            />
          </section>
        )}
      </div>
    </main>
  );
}

interface RowsProps {
  shelf: Shelf;
  search: string;
  onChange: (change: Change) => void;
}

function Rows({ shelf, search, onChange }: RowsProps) {
  const set = (id: string, patch: (row: StockRow) => Partial<StockRow>) =>
    onChange(({ rows }) => ({ rows: rows.map((r) => (r.id === id ? { ...r, ...patch(r) } : r)) }));
  const shown = shelf.rows.filter((r) => matches(r, search));
  return (
    <table className={clsx(table.numbers, styles.rows)} aria-label={shelf.name}>
      <thead>
        <tr>
          <th scope="col">Name</th>
          {shelf.columns.map((c) => (
            <th key={c.name} scope="col">
              {c.title}
              {c.unit !== "text" && <span className="soft"> {c.unit}</span>}
            </th>
          ))}
          <th />
        </tr>
      </thead>
      <tbody>
        {shown.map((row) => (
          <tr key={row.id}>
            <th scope="row">
              <Cell
                label={`Name of ${row.name}`}
                value={row.name}
                onKeep={(name) => name && set(row.id, () => ({ name }))}
              />
            </th>
            {shelf.columns.map((c) => (
              <td key={c.name}>
                <Cell
                  label={`${c.title} of ${row.name}`}
                  value={String(row.cells[c.name] ?? "")}
                  onKeep={(text) => set(row.id, (now) => ({ cells: withCell(now, c.name, c.unit === "text", text) }))}
                />
              </td>
            ))}
            <td>
              <ActionIcon
                variant="subtle"
                color="gray"
                aria-label={`Delete ${row.name}`}
                onClick={() => onChange(({ rows }) => ({ rows: rows.filter((r) => r.id !== row.id) }))}
              >
                ×
              </ActionIcon>
            </td>
          </tr>
        ))}
        <tr>
          <th scope="row">
            <Cell
              key={shelf.rows.length}
              label="Name of a new row"
              placeholder="A new row"
              value=""
              onKeep={(name) =>
                name && onChange(({ rows }) => ({ rows: [...rows, { id: freshRow(rows), name, cells: {} }] }))
              }
            />
          </th>
        </tr>
      </tbody>
    </table>
  );
}

/** What does not read as a number goes to the server as it is, which says what is wrong with it. */
function withCell(row: StockRow, column: string, isText: boolean, text: string): StockRow["cells"] {
  const rest = Object.fromEntries(Object.entries(row.cells).filter(([name]) => name !== column));
  if (text === "") return rest;
  const number = Number(text.replace(",", "."));
  return { ...rest, [column]: isText || !Number.isFinite(number) ? text : number };
}

function freshRow(rows: StockRow[]): string {
  const taken = new Set(rows.map((r) => r.id));
  for (let i = rows.length + 1; ; i++) if (!taken.has(`row${i}`)) return `row${i}`;
}
