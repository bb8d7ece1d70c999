/** Faint depth contours under the part, sized to it. */
import { Line } from "@react-three/drei";
import { useMemo } from "react";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import type { Vec3 } from "../api/types";
import { extentOf } from "./extent";

const RINGS = 7;

export function Contours({ colour }: { colour: string }) {
  const part = usePart((s) => s.document);
  const result = usePart((s) => s.result);
  const sketching = useView((s) => s.sketching !== null);
  const extent = useMemo(() => extentOf(part, result), [part, result]);
  const rings = useMemo(() => {
    const [cx, cy] = extent.centre;
    return Array.from({ length: RINGS }, (_, ring) => {
      const radius = extent.radius * (0.35 + 0.24 * ring);
      return Array.from({ length: 121 }, (_, i): Vec3 => {
        const a = (i / 120) * 2 * Math.PI;
        const wave =
          1 + 0.07 * Math.sin(3 * a + ring * 0.7) + 0.05 * Math.sin(5 * a - ring * 0.4) + 0.04 * Math.cos(2 * a + ring);
        return [cx + radius * wave * Math.cos(a), cy + radius * wave * Math.sin(a), extent.floor];
      });
    });
  }, [extent]);
  if (sketching) return null;
  return (
    <>
      {rings.map((points, i) => (
        <Line key={i} points={points} color={colour} lineWidth={i % 3 === 0 ? 1.1 : 0.6} raycast={() => null} />
      ))}
    </>
  );
}
