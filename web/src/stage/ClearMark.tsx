/** Where a tube comes closest to a body: the shortest way between them, and how long it is. */
import { Html, Line } from "@react-three/drei";
import type { ClearData, Units, Vec3 } from "../api/types";
import { clearWords } from "../state/checks";
import { DragNote } from "../ui/DragNote";

export function ClearMark({ clear, colour, units }: { clear: ClearData; colour: string; units: Units }) {
  const middle = clear.at.map((v, k) => (v + clear.to[k]!) / 2) as Vec3;
  return (
    <>
      {clear.least > 0 && (
        <Line points={[clear.at, clear.to]} color={colour} lineWidth={3} depthTest={false} renderOrder={6} />
      )}
      <Html position={middle} zIndexRange={[4, 0]} style={{ pointerEvents: "none" }}>
        <DragNote>{clearWords(clear, units, 3)}</DragNote>
      </Html>
    </>
  );
}
