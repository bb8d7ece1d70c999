/** The edges of bodies, to be picked. */
import { Line } from "@react-three/drei";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { BodyEdge, Part } from "../api/types";
import { usePart } from "../state/part";
import { useView, type Pick } from "../state/view";
import { edgeTitle } from "../state/faceTitle";

const THIN = 2.5;
const THICK = 6;
const REACH = 12; // pixels in which a click takes it

export function EdgeMarks({ pick, part, colour }: { pick: Pick; part: Part; colour: string }) {
  const { asks } = pick;
  const edges = useQuery({
    queryKey: ["edges", part, pick.before, asks],
    queryFn: () =>
      asks === undefined
        ? api.bodyEdges(part, pick.before)
        : api.ask<BodyEdge[]>(usePart.getState().id!, asks, "edges"),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
  const [over, setOver] = useState<string | null>(null);
  const enter = (item: string | null) => {
    setOver(item);
    useView.getState().setHover(item === null ? null : `take ${edgeTitle(item)}`);
  };
  return (
    <>
      {(edges.data ?? []).flatMap(({ source, item, lines }) =>
        lines.map((points, i) => (
          <group key={`${item}${i}`}>
            <Line
              points={points}
              color={colour}
              lineWidth={over === item ? THICK : THIN}
              depthTest={false}
              renderOrder={8}
              raycast={() => null}
            />
            <Line
              points={points}
              lineWidth={REACH}
              transparent
              opacity={0}
              depthWrite={false}
              userData={{ handle: item }}
              onPointerOver={(e) => {
                e.stopPropagation();
                enter(item);
              }}
              onPointerOut={() => enter(null)}
              onClick={(e) => {
                e.stopPropagation();
                enter(null);
                pick.take(source, item);
              }}
            />
          </group>
        )),
      )}
    </>
  );
}
