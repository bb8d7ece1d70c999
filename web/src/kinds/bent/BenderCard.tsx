/** The machine that a program is played on: how it goes, what is met, and whether another order is freer. */
import { Button, FileButton, SegmentedControl, Select, Slider } from "@mantine/core";
import { api } from "../../api/client";
import type { StepReport } from "../../api/types";
import { Card } from "../../slip/Card";
import type { Draft } from "../../slip/draft";
import { useAsk } from "../../slip/useAsk";
import { usePart, whenSaved } from "../../state/part";
import { useView } from "../../state/view";
import { trim } from "../../ui/format";
import { saveText } from "../../ui/saveText";
import styles from "./BenderCard.module.css";
import { close, seek, show, step as stepTo, toggle, usePlayer } from "./player";
import { poseAt, type Run } from "./run";
import type { BentStep } from "./step";

interface Props {
  step: BentStep;
  report: StepReport | undefined;
  draft: Draft<BentStep>;
}

interface Order {
  flipped: boolean;
  long_turns: number[];
  hits: string[];
  seconds: number;
}

type Machine = NonNullable<BentStep["own_machine"]>;

const OWN = "own"; // in the list of machines, the one from a file

const PHASES: Record<string, string> = {
  feed: "feeding to",
  turn: "turning for",
  bend: "making",
  release: "springing back after",
  back: "arm back after",
};

export function BenderCard({ step, report, draft }: Props) {
  const playing = useView((s) => s.scene?.step === step.id);
  const machines = report?.data.bent?.machines ?? {};
  const play = useAsk<Run>(step.id, "run", (run) => show(step.id, run));
  const look = useAsk<Order[]>(step.id, "orders");
  const change = (label: string, patch: Partial<BentStep>) => {
    if (playing) close();
    look.reset();
    draft.commit(label, patch);
  };
  const own = step.own_machine;
  const chosen = step.machine !== null || own !== null;
  const told = useAsk<Machine>(step.id, "machine", (machine) =>
    saveText(`${machine.name}.json`, JSON.stringify(machine, null, 2), "application/json"),
  );
  const read = (file: File | null) => {
    const { id, meanwhile } = usePart.getState();
    if (file === null || id === null) return;
    const ask = async () => {
      const text = await file.text();
      await whenSaved();
      return api.ask<Machine>(id, step.id, "machine", { text });
    };
    void meanwhile(ask(), (machine) => change("Read a machine", { machine: null, own_machine: machine }));
  };
  return (
    <Card title="Bender">
      <Select
        label="Machine"
        placeholder="None"
        clearable
        data={Object.entries({ ...machines, ...(own && { [OWN]: own.name }) }).map(([value, label]) => ({
          value,
          label,
        }))}
        value={own ? OWN : (step.machine ?? null)}
        onChange={(machine) => machine !== OWN && change("Choose a machine", { machine, own_machine: null })}
      />
      <div className={styles.row}>
        <FileButton accept=".json,application/json" onChange={read}>
          {(props) => (
            <Button {...props} size="compact-xs" variant="default">
              From a file
            </Button>
          )}
        </FileButton>
        {chosen && (
          <Button size="compact-xs" variant="default" loading={told.isPending} disabled={told.waits} onClick={told.ask}>
            Save as a file
          </Button>
        )}
      </div>
      {chosen && (
        <div className={styles.row}>
          <Button
            size="compact-xs"
            variant="default"
            loading={play.isPending}
            disabled={play.waits}
            onClick={() => (playing ? close() : play.ask())}
          >
            {playing ? "Back to the part" : "Play the program"}
          </Button>
          <Button size="compact-xs" variant="default" loading={look.isPending} disabled={play.waits} onClick={look.ask}>
            Look for another order
          </Button>
        </div>
      )}
      {playing && <Player />}
      {look.data?.map((order) => (
        <div key={String(order.flipped)} className={styles.order}>
          <span className="figures">
            {order.flipped ? "From its end" : "From its start"}
            {order.long_turns.length > 0 && `, bends ${order.long_turns.join(", ")} the longer way round`},{" "}
            {trim(order.seconds, 3)} s: {order.hits.length === 0 ? "free" : order.hits.join("; ")}
          </span>
          <Button
            size="compact-xs"
            variant="subtle"
            onClick={() => change("Take an order", { flipped: order.flipped, long_turns: order.long_turns })}
          >
            Take
          </Button>
        </div>
      ))}
    </Card>
  );
}

/** Where the program is, and the ways to go through it. */
function Player() {
  const run = usePlayer((s) => s.run);
  const at = usePlayer((s) => s.at);
  const going = usePlayer((s) => s.going);
  const speed = usePlayer((s) => s.speed);
  if (run === null) return null;
  const whole = run.seconds.at(-1) ?? 0;
  const pose = poseAt(run, at);
  return (
    <div className={styles.player} data-testid="player" data-at={at.toFixed(2)} data-phase={pose.phase}>
      <span className="figures">
        {trim(at, 3)} of {trim(whole, 3)} s: {PHASES[pose.phase]} bend {pose.row + 1}
      </span>
      <Slider
        aria-label="Time of the program"
        size="sm"
        min={0}
        max={whole}
        step={whole / 500}
        label={null}
        value={at}
        onChange={seek}
        marks={run.hits.map((h) => ({ value: run.seconds[h.moment] ?? 0 }))}
      />
      <div className={styles.row}>
        <Button size="compact-xs" variant="default" onClick={() => stepTo(-1)}>
          Step back
        </Button>
        <Button size="compact-xs" variant="default" onClick={toggle}>
          {going ? "Pause" : "Go on"}
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => stepTo(1)}>
          Next step
        </Button>
      </div>
      <SegmentedControl
        size="xs"
        aria-label="Speed"
        data={[
          { value: "0.25", label: "slowly" },
          { value: "1", label: "as it is" },
          { value: "4", label: "4 times" },
        ]}
        value={String(speed)}
        onChange={(v) => usePlayer.setState({ speed: Number(v) })}
      />
      {run.hits.map((h, i) => (
        <button key={i} className={styles.hit} onClick={() => seek(run.seconds[Math.max(h.moment, 0)] ?? 0)}>
          {h.text}
        </button>
      ))}
      {run.hits.length === 0 && <span className="soft">Nothing is met.</span>}
    </div>
  );
}
