/** The camera's turn and zoom, for the attitude glyph and the scale bar outside the canvas. */
import type { Quaternion } from "three";
import { create } from "zustand";
import { useView } from "../state/view";

interface CameraState {
  turn: [number, number, number, number];
  zoom: number;
}

export const useCamera = create<CameraState>(() => ({ turn: [0, 0, 0, 1], zoom: 1 }));

/** The serial number of the last request that the camera has answered. */
let answered = 0;

export const cameraState = {
  answer: (serial: number) => {
    answered = serial;
  },
  /** Whether something is asked of the camera that it has not done yet, as the stage is still being set up. */
  waits: () => (useView.getState().request?.serial ?? 0) > answered,
  set: (q: Quaternion, zoom: number) => useCamera.setState({ turn: [q.x, q.y, q.z, q.w], zoom }),
};
