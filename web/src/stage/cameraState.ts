/** The camera's turn and zoom, for the attitude glyph and the scale bar outside the canvas. */
import type { Quaternion } from "three";
import { create } from "zustand";

interface CameraState {
  turn: [number, number, number, number];
  zoom: number;
}

export const useCamera = create<CameraState>(() => ({ turn: [0, 0, 0, 1], zoom: 1 }));

export const cameraState = {
  set: (q: Quaternion, zoom: number) => useCamera.setState({ turn: [q.x, q.y, q.z, q.w], zoom }),
};
