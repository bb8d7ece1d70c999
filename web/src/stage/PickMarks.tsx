/** What a card asks to be picked in the stage: the points or lines of the sketches before a step. */
import { Line } from "@react-three/drei";
import type { DrawnData, Vec3 } from "../api/types";
import { curveTitle } from "../state/curveTitle";
import { isSolved } from "../state/drawings";
import { stepsBefore, usePart } from "../state/part";
import { useView, type Pick } from "../state/view";
import { EdgeMarks } from "./EdgeMarks";
import { toSpace } from "../geometry/space";
import { useCamera } from "./cameraState";

const SIZE_PX = 6;

export function PickMarks({ colour }: { colour: string }) {
  const pick = useView((s) => s.pick);
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  if (pick === null || part === null || pick.want === "side" || pick.want === "face") return null;
  if (pick.want === "edge") return <EdgeMarks pick={pick} part={part} colour={colour} />;
  const before = stepsBefore(part, pick.before);
  return (
    <>
      {before.map((step) => {
        const data = result?.steps[step.id]?.data;
        if (!isSolved(data)) return null;
        const shared = { pick, step: step.id, name: step.name, data, colour };
        return pick.want === "point" ? <Points key={step.id} {...shared} /> : <Lines key={step.id} {...shared} />;
      })}
    </>
  );
}

interface Props {
  pick: Pick;
  step: string;
  name: string;
  data: DrawnData;
  colour: string;
}

function over(title: string | null) {
  useView.getState().setHover(title);
}

function Points({ pick, step, name, data, colour }: Props) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const zoom = useCamera((s) => s.zoom);
  const points = [{ id: "O", x: 0, y: 0 }, ...data.sketch.points];
  return (
    <>
      {points.map((p) => (
        <mesh
          key={p.id}
          position={toSpace(data.plane, [p.x, p.y])}
          renderOrder={8}
          userData={{ handle: p.id }}
          onPointerOver={(e) => {
            e.stopPropagation();
            over(`${name}: take the ${curveTitle(data.sketch, p.id, units)}`);
          }}
          onPointerOut={() => over(null)}
          onClick={(e) => {
            e.stopPropagation();
            over(null);
            pick.take(step, p.id);
          }}
        >
          <sphereGeometry args={[SIZE_PX / zoom, 14, 10]} />
          <meshBasicMaterial color={colour} depthTest={false} />
        </mesh>
      ))}
    </>
  );
}

function Lines({ pick, step, name, data, colour }: Props) {
  const units = usePart((s) => s.document?.units ?? "mm");
  return (
    <>
      {data.sketch.entities
        .filter((e) => e.kind === "line")
        .map((e) => (
          <Line
            key={e.id}
            points={(data.curves[e.id] ?? []).map((p): Vec3 => toSpace(data.plane, p))}
            color={colour}
            lineWidth={5}
            depthTest={false}
            renderOrder={8}
            userData={{ handle: e.id }}
            onPointerOver={(h) => {
              h.stopPropagation();
              over(`${name}: take the ${curveTitle(data.sketch, e.id, units)}`);
            }}
            onPointerOut={() => over(null)}
            onClick={(h) => {
              h.stopPropagation();
              over(null);
              pick.take(step, e.id);
            }}
          />
        ))}
    </>
  );
}
