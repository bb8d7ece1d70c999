/** The window in which a part of the list is chosen. */
import { Modal, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, pictureUrl } from "../../api/client";
import { usePart } from "../../state/part";
import { keepPart, useChoosing } from "./choosing";
import styles from "./PartChooser.module.css";

const close = () => useChoosing.setState({ take: null });

export function PartChooser() {
  const take = useChoosing((s) => s.take);
  useEffect(() => close, []); // asked for in a part that is left, it is not asked for in the next one
  return (
    <Modal opened={take !== null} onClose={close} title="Which part?" size="lg">
      {take !== null && (
        <Parts
          onPick={(id) => {
            close();
            keepPart(id, take);
          }}
        />
      )}
    </Modal>
  );
}

function Parts({ onPick }: { onPick: (id: string) => void }) {
  const own = usePart((s) => s.id);
  const [search, setSearch] = useState("");
  const parts = useQuery({ queryKey: ["parts"], queryFn: api.parts });
  const found = (parts.data ?? []).filter((p) => p.id !== own && p.name.toLowerCase().includes(search.toLowerCase()));
  return (
    <>
      <TextInput
        aria-label="Search parts"
        placeholder="Search parts"
        data-autofocus
        value={search}
        onChange={(e) => setSearch(e.currentTarget.value)}
        onKeyDown={(e) => e.key === "Enter" && found[0] !== undefined && onPick(found[0].id)}
      />
      <div className={styles.parts}>
        {found.map((p) => (
          <button key={p.id} className={styles.part} onClick={() => onPick(p.id)}>
            {p.picture ? (
              <img src={pictureUrl(p)} alt="" loading="lazy" />
            ) : (
              <span className="soft">not built yet</span>
            )}
            <span>{p.name}</span>
          </button>
        ))}
        {parts.isSuccess && found.length === 0 && <p className="soft">No other part matches.</p>}
      </div>
    </>
  );
}
