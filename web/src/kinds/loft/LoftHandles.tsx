/**
 * The sections of a loft with the threads between them, whose ends are dragged along the outlines, and how far it keeps
 * square at its ends.
 */
import { Line } from "@react-three/drei";
import type { ThreeEvent } from "@react-three/fiber";
import { inMm } from "../../ui/format";
import { Grip } from "../../stage/Grip";
import { useStagePull } from "../../stage/stagePull";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import type { Vec3 } from "../../api/types";
import type { HandlesProps } from "../room";
import { dragged, endGrip, isOpen, threadsOf } from "./threads";
import type { LoftStep } from "./step";
import { useCamera } from "../../stage/cameraState";

const GRIP_PX = 5;

export default function LoftHandles({ step, colours: { edge, pick } }: HandlesProps<LoftStep>) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const built = usePart((s) => s.result?.steps[step.id]);
  const preview = useView((s) => s.preview);
  const zoom = useCamera((s) => s.zoom);
  const { moved, begin, onMove, onUp } = useStagePull<LoftStep>(step);
  const report = moved?.report ?? (preview?.step === step.id ? preview.report : built);
  const shown = report?.data;
  if (shown?.rings === undefined || shown.threads === undefined) return null;
  const { rings, threads, lines = [] } = shown;
  const own = threadsOf(shown);
  const ends = isOpen(rings[0]!) ? 1 : 0; // threads at each end that stay there
  const grip = (key: string, at: Vec3, says: string, onDown: (e: ThreeEvent<PointerEvent>) => void) => (
    <Grip
      key={key}
      id={key}
      at={at}
      says={`${step.name}: ${says}`}
      colour={pick}
      pixels={GRIP_PX}
      onDown={onDown}
      onMove={onMove}
      onUp={onUp}
    />
  );
  return (
    <group>
      {rings.map((ring, i) => (
        <Line key={i} points={ring} color={edge} lineWidth={2} depthTest={false} renderOrder={5} />
      ))}
      {lines.map((thread, t) => (
        <Line
          key={t}
          points={thread}
          color={pick}
          lineWidth={1}
          dashed
          dashSize={6 / zoom}
          gapSize={4 / zoom}
          depthTest={false}
          renderOrder={5}
        />
      ))}
      {threads
        .slice(ends, own.length - ends)
        .flatMap((thread, t) =>
          thread.map((at, i) =>
            grip(`thread${t + ends}/${i}`, at, `drag what corresponds, along section ${i + 1}`, (e) =>
              begin(e, "Drag a thread", at, (to) => ({
                threads: dragged(own, t + ends, i, rings[i]!, to.map((v) => inMm(v, units)) as typeof at),
              })),
            ),
          ),
        )}
      {(["start", "end"] as const).map((name) => {
        const end = endGrip(step[name], shown, name === "start");
        return end === null
          ? null
          : grip(`${name}/strength`, end.at, `drag how long it is square to its ${name}`, (e) =>
              begin(e, `Drag the strength at the ${name}`, end.at, (to) => ({
                [name]: { ...step[name], strength: end.strength(to.map((v) => inMm(v, units)) as typeof end.at) },
              })),
            );
      })}
    </group>
  );
}
