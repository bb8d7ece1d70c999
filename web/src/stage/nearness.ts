/**
 * How fine bodies are drawn by what can be seen: where triangles would show on the screen, finer ones are asked for.
 */
import * as THREE from "three";
import { useThree } from "@react-three/fiber";
import { useEffect, useState } from "react";
import type { BodyData } from "../api/types";
import { useCamera } from "./cameraState";
import { placesIn } from "./Copies";

/** Pixels that the surface may be off the triangles it is drawn with. */
const SEEN = 1.2;
/** Pixels that it may be off those which are asked for then. */
const WANTED = 0.5;
/** Halvings of what a body is drawn with: finer ones are not asked for by themselves. */
const MOST_HALVINGS = 6;
/** Triangles on the screen at the same time, more or less. */
const MOST_TRIANGLES = 200_000;

/** For how long the camera rests, ms, before anything is asked for. */
const AT_REST = 500;

/** What is asked for: triangles within a mm halved so often, as far as `most` suffice for each body or copy. */
export interface Nearness {
  halvings: number;
  most: number;
}

/** For each of the bodies that are in view and need it, how fine its triangles are to be at so many pixels for a mm. */
export function nearness(bodies: BodyData[], zoom: number, seen: (body: BodyData) => boolean): Map<string, Nearness> {
  const needy = bodies.filter((b) => b.chord * coarsened(b) * zoom > SEEN && seen(b));
  const count = needy.reduce((sum, b) => sum + copiesOf(b), 0);
  const most = 2 ** Math.floor(Math.log2(Math.max(128, MOST_TRIANGLES / Math.max(1, count))));
  return new Map(
    needy.map((b) => {
      const finest = Math.floor(-Math.log2(b.chord)) + MOST_HALVINGS;
      return [b.key, { halvings: Math.min(finest, Math.ceil(Math.log2(zoom / WANTED))), most }];
    }),
  );
}

/** How many times as far off the surface it is for being drawn with fewer triangles than it was built with. */
function coarsened(body: BodyData): number {
  return body.most === null ? 1 : Math.max(1, body.triangles / body.most);
}

function copiesOf(body: BodyData): number {
  return body.places === null ? 1 : placesIn(body.places);
}

/** The same once the camera has come to rest. */
export function useNearness(bodies: BodyData[]): Map<string, Nearness> {
  const camera = useThree((s) => s.camera);
  const [near, setNear] = useState(new Map<string, Nearness>());
  useEffect(() => {
    let waiting: number;
    const look = () => {
      window.clearTimeout(waiting);
      waiting = window.setTimeout(() => {
        const found = nearness(bodies, camera.zoom, (b) => touchesView(camera, b.box));
        setNear((before) => (JSON.stringify([...before]) === JSON.stringify([...found]) ? before : found));
      }, AT_REST);
    };
    look();
    const left = useCamera.subscribe(look);
    return () => {
      window.clearTimeout(waiting);
      left();
    };
  }, [bodies, camera]);
  return near;
}

/** Whether anything of a box, by its lowest and highest corner, may lie in what the camera sees. */
export function touchesView(camera: THREE.Camera, [low, high]: BodyData["box"]): boolean {
  const frustum = new THREE.Frustum().setFromProjectionMatrix(
    new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse),
  );
  return frustum.intersectsBox(new THREE.Box3(new THREE.Vector3(...low), new THREE.Vector3(...high)));
}
