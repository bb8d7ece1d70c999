/** The section's axes at even stations: x in the colour of sections, y in that of rails. */
import { Line } from "@react-three/drei";
import type { Vec3 } from "../api/types";
import { reportOf, usePart } from "../state/part";
import { sweptFor } from "../state/roles";
import { useView } from "../state/view";
import { frameAt } from "../geometry/space";

const COUNT = 28;

export function FramesAlong({ x, y }: { x: string; y: string }) {
  const shown = useView((s) => s.frames && s.sketching === null);
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const selected = useView((s) => s.selected);
  const preview = useView((s) => s.preview);
  const swept = part === null ? null : sweptFor(part, selected);
  const report = preview?.step === swept ? preview?.report : swept === null ? undefined : reportOf(result, swept);
  const data = report?.data;
  if (!shown || !data?.lanes || !data.length || !data.section) return null;
  const { lanes, section } = data;
  const reach = Math.max(section.width, section.height) * 0.8;
  const legs = { x: [] as Vec3[], y: [] as Vec3[] };
  for (let i = 0; i <= COUNT; i++) {
    const frame = frameAt(lanes, (i / COUNT) * data.length);
    for (const axis of ["x", "y"] as const) {
      legs[axis].push(frame.point, frame.point.map((v, k) => v + reach * frame[axis][k]!) as Vec3);
    }
  }
  return (
    <>
      <Line points={legs.x} segments color={x} lineWidth={2} depthTest={false} renderOrder={4} raycast={() => null} />
      <Line points={legs.y} segments color={y} lineWidth={2} depthTest={false} renderOrder={4} raycast={() => null} />
    </>
  );
}
