/** The edges of bodies, to be picked. */
import { Line } from "@react-three/drei";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../api/client";
import type { BodyEdge, Part, Vec3 } from "../api/types";
import { usePart } from "../state/part";
import { useView, type Pick } from "../state/view";
import { edgeTitle } from "../state/faceTitle";

const THIN = 2.5;
const THICK = 6;
const REACH = 12; // pixels in which a click takes it

/**
 * What is planned is there at once, and is what its step calls it. The build tells where it is, as a part that is
 * followed may have changed meanwhile, and adds what came of putting bodies together.
 */
function together(planned: BodyEdge[], made: BodyEdge[]): BodyEdge[] {
  const built = new Map(made.map((e) => [e.item, e.lines]));
  const known = new Set(planned.map((e) => e.item));
  return [
    ...planned.map((e) => ({ ...e, lines: built.get(e.item) ?? e.lines })),
    ...made.filter((e) => !known.has(e.item)),
  ];
}

const middleOf = (line: Vec3[]): Vec3 => line[Math.floor(line.length / 2)]!;

export function EdgeMarks({ pick, part, colour }: { pick: Pick; part: Part; colour: string }) {
  const { built = false, before } = pick;
  const planned = useQuery({
    queryKey: ["edges", part, before],
    queryFn: () => api.bodyEdges(part, before),
    enabled: !built,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });
  // asked anew with each build: the server answers for what is saved, and an answer that failed once is not the last
  // word
  const revision = usePart((s) => s.builtRevision);
  const made = useQuery({
    queryKey: ["built edges", part, before, revision],
    queryFn: () => api.builtEdges(usePart.getState().id!, before),
    staleTime: Infinity,
    retry: 3,
    placeholderData: keepPreviousData,
  });
  const edges = together(planned.data ?? [], made.data ?? []);
  const [over, setOver] = useState<string | null>(null);
  const enter = (item: string | null) => {
    setOver(item);
    useView.getState().setHover(item === null ? null : `take ${edgeTitle(item)}`);
  };
  return (
    <>
      {edges.flatMap(({ source, item, lines }) =>
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
                pick.take(source, item, middleOf(lines[0]!));
              }}
            />
          </group>
        )),
      )}
    </>
  );
}
