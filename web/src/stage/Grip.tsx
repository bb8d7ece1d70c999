/** What is taken hold of in the stage: a ball that is as large on the screen however near one looks. */
import type { ThreeEvent } from "@react-three/fiber";
import type { Vec3 } from "../api/types";
import { useView } from "../state/view";
import { useCamera } from "./cameraState";

interface Props {
  /** By which tests and the pointer know it. */
  id: string;
  at: Vec3;
  /** Said while the pointer is over it. */
  says: string;
  colour: string;
  pixels: number;
  onDown: (e: ThreeEvent<PointerEvent>) => void;
  onMove: (e: ThreeEvent<PointerEvent>) => void;
  onUp: () => void;
}

export function Grip({ id, at, says, colour, pixels, onDown, onMove, onUp }: Props) {
  const zoom = useCamera((s) => s.zoom);
  return (
    <mesh
      position={at}
      renderOrder={7}
      userData={{ handle: id }}
      onPointerOver={(e) => {
        e.stopPropagation();
        useView.getState().setHover(says);
      }}
      onPointerOut={() => useView.getState().setHover(null)}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
    >
      <sphereGeometry args={[pixels / zoom, 14, 10]} />
      <meshBasicMaterial color={colour} depthTest={false} />
    </mesh>
  );
}
