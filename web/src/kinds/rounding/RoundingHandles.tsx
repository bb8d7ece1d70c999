/** Marks on rounded edges at the places of their radii: dragged along the chain. */
import { Line } from "@react-three/drei";
import type { ThreeEvent } from "@react-three/fiber";
import { useRef, useState } from "react";
import { Grip } from "../../stage/Grip";
import { useDraft } from "../../slip/draft";
import { usePart } from "../../state/part";
import { useView } from "../../state/view";
import type { HandlesProps } from "../room";
import { placeAt, shareNear, shareOf } from "./along";
import type { RoundingStep } from "./step";

const GRIP_PX = 6;
const TENTHS = 1000;

interface Held {
  index: number;
  share: number;
}

export default function RoundingHandles({ step, report, colours: { pick } }: HandlesProps<RoundingStep>) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const draft = useDraft<RoundingStep>(step.id);
  const held = useRef<Held | null>(null);
  const [moved, setMoved] = useState<Held | null>(null);
  const { chain, length } = report.data;
  const { how } = step;
  if (how.by !== "table" || chain === undefined || length === undefined) return null;

  const at = ({ index, share }: Held): RoundingStep["how"] => ({
    ...how,
    points: how.points.map((p, i) => (i === index ? { ...p, at: `${(share * 100).toFixed(1)}%` } : p)),
  });
  const onMove = (e: ThreeEvent<PointerEvent>) => {
    if (held.current === null) return;
    const share = shareNear(chain, e.ray.origin.toArray(), e.ray.direction.toArray());
    held.current = { ...held.current, share: Math.round(share * TENTHS) / TENTHS };
    setMoved(held.current);
    draft.preview({ how: at(held.current) });
  };
  const onUp = () => {
    const put = held.current;
    held.current = null;
    setMoved(null);
    useView.getState().set({ dragging: false });
    if (put === null) return;
    draft.commit("Drag a radius along the edge", { how: at(put) });
  };
  return (
    <group>
      <Line points={chain} color={pick} lineWidth={2} depthTest={false} renderOrder={5} />
      {how.points.map((p, index) => {
        const own = shareOf(p.at, length, units);
        if (own === null) return null;
        const share = moved?.index === index ? moved.share : own;
        return (
          <Grip
            key={index}
            id={`radius${index}`}
            at={placeAt(chain, share)}
            says={`${step.name}: drag where the radius is ${p.value} ${units}`}
            colour={pick}
            pixels={GRIP_PX}
            onDown={(e) => {
              e.stopPropagation();
              (e.target as Element).setPointerCapture(e.pointerId);
              useView.getState().set({ dragging: true });
              held.current = { index, share: own };
            }}
            onMove={onMove}
            onUp={onUp}
          />
        );
      })}
    </group>
  );
}
