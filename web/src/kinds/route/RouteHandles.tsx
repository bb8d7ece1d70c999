/** The points of the selected route in space: drag one, or pull a new corner out of the middle of a run. */
import { Html, Line } from "@react-three/drei";
import type { ThreeEvent } from "@react-three/fiber";
import type { Shown, Vec3 } from "../../api/types";
import type { RoutePoint, RouteStep } from "./step";
import { usePart } from "../../state/part";
import { placed } from "./new";
import { useView } from "../../state/view";
import { length } from "../../ui/format";
import type { HandlesProps } from "../room";
import { useStagePull } from "../../stage/stagePull";
import { DragNote } from "../../ui/DragNote";
import { useCamera } from "../../stage/cameraState";

const SIZE_PX = 6;
const MOST_FIGURES = 16;

const runsOf = (route: NonNullable<Shown["route"]>) =>
  route.runs.map((_, i) => [route.points[i]!, route.points[(i + 1) % route.points.length]!] as const);

export default function RouteHandles({ step, colours: { path: colour, pick: free } }: HandlesProps<RouteStep>) {
  const units = usePart((s) => s.document?.units ?? "mm");
  const built = usePart((s) => s.result?.steps[step.id]);
  const preview = useView((s) => s.preview);
  const zoom = useCamera((s) => s.zoom);
  const { moved, begin, onMove, onUp } = useStagePull<RouteStep>(step);
  const report = moved?.report ?? (preview?.step === step.id ? preview.report : built);
  const { route, path } = report?.data ?? {};
  const points = moved?.patch.points ?? step.points;
  if (!route || !path || route.points.length !== points.length) return null;

  /** One of a list of points follows the pointer. */
  const take = (e: ThreeEvent<PointerEvent>, list: RoutePoint[], index: number, from: Vec3) =>
    begin(e, list.length > step.points.length ? "Pull out a corner" : "Drag a point", from, ([x, y, z]) => ({
      points: list.map((p, k) => (k === index ? { ...p, at: { by: "place", x, y, z } } : p)),
    }));
  const ends = runsOf(route);
  const size = SIZE_PX / zoom;

  return (
    <group>
      <Line points={path.points} color={colour} lineWidth={3.5} depthTest={false} renderOrder={5} />
      <Line
        points={step.closed ? [...route.points, route.points[0]!] : route.points}
        color={colour}
        lineWidth={1}
        dashed
        dashSize={size}
        gapSize={size}
        depthTest={false}
        transparent
        opacity={0.5}
        renderOrder={4}
      />
      {points.map((p, i) => {
        const at = route.points[i]!;
        const drawn = p.at.by !== "place";
        return (
          <mesh
            key={p.id}
            position={at}
            renderOrder={7}
            userData={{ handle: p.id }}
            onPointerOver={(e) => {
              e.stopPropagation();
              useView
                .getState()
                .setHover(
                  drawn
                    ? `${step.name}: point ${i + 1} follows another step`
                    : `${step.name}: drag point ${i + 1}; Shift: along the sight`,
                );
            }}
            onPointerOut={() => useView.getState().setHover(null)}
            onPointerDown={(e) => !drawn && take(e, step.points, i, at)}
            onPointerMove={onMove}
            onPointerUp={onUp}
          >
            {drawn ? (
              <boxGeometry args={[size * 1.5, size * 1.5, size * 1.5]} />
            ) : (
              <sphereGeometry args={[size, 14, 10]} />
            )}
            <meshBasicMaterial color={drawn ? colour : free} depthTest={false} />
          </mesh>
        );
      })}
      {runsOf(built?.data.route ?? route).map(([a, b], i) => {
        const middle = a.map((v, k) => (v + b[k]!) / 2) as Vec3;
        const corner = placed(middle, step.points);
        const list = [...step.points.slice(0, i + 1), corner, ...step.points.slice(i + 1)];
        return (
          <mesh
            key={`run${i}`}
            position={middle}
            rotation={[0.6, 0.6, 0.78]}
            renderOrder={6}
            userData={{ handle: `run${i}` }}
            onPointerOver={(e) => {
              e.stopPropagation();
              const what = step.shape === "smooth" ? "point" : "corner";
              const run = `run ${i + 1}–${((i + 1) % points.length) + 1}`;
              useView.getState().setHover(`${step.name}: pull a ${what} out of ${run}`);
            }}
            onPointerOut={() => useView.getState().setHover(null)}
            onPointerDown={(e) => take(e, list, i + 1, middle)}
            onPointerMove={onMove}
            onPointerUp={onUp}
          >
            <octahedronGeometry args={[size * 1.1]} />
            <meshBasicMaterial color={colour} depthTest={false} transparent opacity={moved === null ? 0.7 : 0} />
          </mesh>
        );
      })}
      {route.runs.length <= MOST_FIGURES &&
        ends.map(([a, b], i) => (
          <Html
            key={`length${i}`}
            position={a.map((v, k) => v * 0.62 + b[k]! * 0.38) as Vec3}
            zIndexRange={[4, 0]}
            style={{ pointerEvents: "none" }}
          >
            <DragNote>{length(route.runs[i]!.length, units)}</DragNote>
          </Html>
        ))}
    </group>
  );
}
