/** The colour of a step's bodies in the stage. */
import { Menu } from "@mantine/core";
import { usePart } from "../state/part";
import { BODY_COLOURS, type Colour } from "../stage/bodyColours";
import styles from "./ColourPick.module.css";

const NAMES = Object.keys(BODY_COLOURS) as Colour[];

export function ColourPick({ step }: { step: string }) {
  const now = usePart((s) => s.document?.colours[step]);
  const put = (colour: Colour | null) =>
    void usePart.getState().change(colour === null ? "Take the colour away" : `Colour it ${colour}`, (p) => {
      const rest = Object.fromEntries(Object.entries(p.colours).filter(([id]) => id !== step));
      return { ...p, colours: colour === null ? rest : { ...rest, [step]: colour } };
    });
  return (
    <>
      <Menu.Label>Colour</Menu.Label>
      <div className={styles.swatches} role="group" aria-label="Colour">
        <button type="button" aria-label="No colour" aria-pressed={now === undefined} onClick={() => put(null)}>
          –
        </button>
        {NAMES.map((name) => (
          <button
            key={name}
            type="button"
            aria-label={name}
            title={name}
            aria-pressed={now === name}
            style={{ background: BODY_COLOURS[name] }}
            onClick={() => put(name)}
          />
        ))}
      </div>
    </>
  );
}
