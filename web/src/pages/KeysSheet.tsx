import { Modal } from "@mantine/core";
import { useView } from "../state/view";
import { SKETCH_COMMANDS } from "../sketch/commands";
import { COMMANDS } from "../commands/commands";
import styles from "./KeysSheet.module.css";

const MOD = navigator.platform.startsWith("Mac") ? "⌘" : "Ctrl";
const spoken = (keys: string) => keys.replace("mod", MOD).replace("shift", "Shift").replaceAll("+", " + ");

/** The keys, by intent. */
export function KeysSheet() {
  const open = useView((s) => s.keysOpen);
  const groups = Object.entries(
    Object.groupBy(
      COMMANDS.filter((c) => c.keys),
      (c) => c.intent,
    ),
  );
  return (
    <Modal opened={open} onClose={() => useView.getState().set({ keysOpen: false })} title="The keys" size="lg">
      <div className={styles.keysSheet}>
        <section>
          <h3>Everywhere</h3>
          <KeyRow keys="A" title="Open the locker: add a step, find a command" />
          <KeyRow keys="Esc" title="Leave the sketch, let go of the selection" />
        </section>
        {groups.map(([intent, commands]) => (
          <section key={intent}>
            <h3>{intent}</h3>
            {commands.map((c) => (
              <KeyRow key={c.id} keys={spoken(c.keys!)} title={c.title} />
            ))}
          </section>
        ))}
        <section>
          <h3>In a sketch</h3>
          <KeyRow keys="/" title="Find any command of the sketch" />
          <KeyRow keys="Esc" title="End the chain, let go, then leave the sketch" />
          <KeyRow keys="Arrows" title="Move the selected point by one unit (Shift: ten), as if dragged" />
          {SKETCH_COMMANDS.filter((c) => c.key).map((c) => (
            <KeyRow key={c.id} keys={spoken(c.key)} title={c.title} />
          ))}
        </section>
      </div>
    </Modal>
  );
}

function KeyRow({ keys, title }: { keys: string; title: string }) {
  return (
    <p>
      <kbd>{keys}</kbd>
      <span>{title}</span>
    </p>
  );
}
