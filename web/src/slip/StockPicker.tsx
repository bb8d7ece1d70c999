/** The window in which a row of the shelf is chosen. */
import { Modal, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import clsx from "clsx";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import type { Shelf, StockRow } from "../api/types";
import table from "../ui/table.module.css";
import styles from "./StockPicker.module.css";

interface Props {
  sort: string;
  opened: boolean;
  onClose: () => void;
  onPick: (shelf: Shelf, row: StockRow) => void;
}

export function StockPicker({ sort, opened, onClose, onPick }: Props) {
  return (
    <Modal opened={opened} onClose={onClose} title="Which one?" size="lg">
      {opened && <Rows sort={sort} onPick={onPick} />}
    </Modal>
  );
}

function Rows({ sort, onPick }: Pick<Props, "sort" | "onPick">) {
  const [search, setSearch] = useState("");
  const shelves = useQuery({ queryKey: ["shelves"], queryFn: api.shelves, staleTime: 0 });
  const found = (shelves.data ?? [])
    .filter((s) => s.sort === sort)
    .map((shelf) => ({ shelf, rows: shelf.rows.filter((row) => matches(row, search)) }));
  return (
    <>
      <TextInput
        aria-label="Search the shelf"
        placeholder="Part of a name, a material or a size"
        data-autofocus
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
      />
      {found.map(({ shelf, rows }) => (
        <table key={shelf.id} className={clsx(table.numbers, styles.rows)} aria-label={shelf.name}>
          <thead>
            <tr>
              <th scope="col">{shelf.name}</th>
              {shelf.columns.map((c) => (
                <th key={c.name} scope="col">
                  {c.title}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id}>
                <th scope="row">
                  <button className={styles.pick} onClick={() => onPick(shelf, row)}>
                    {row.name}
                  </button>
                </th>
                {shelf.columns.map((c) => (
                  <td key={c.name}>{row.cells[c.name] ?? ""}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      ))}
      {shelves.isSuccess && found.every(({ rows }) => rows.length === 0) && <p className="soft">Nothing matches.</p>}
      <Link className={styles.pick} to="/shelf">
        To the shelf
      </Link>
    </>
  );
}

/** Every word is in the row's name or in one of its cells. */
export function matches(row: StockRow, search: string): boolean {
  const texts = [row.name, ...Object.values(row.cells).map(String)].map((t) => t.toLowerCase());
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => texts.some((t) => t.includes(word)));
}
