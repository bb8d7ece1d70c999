/**
 * A compass card with a plumb line through it, turning with the camera: click a letter, the eye or the bob to look from
 * there.
 */
import { Quaternion, Vector3 } from "three";
import { useView, type ViewName } from "../state/view";
import { useCamera } from "./cameraState";
import styles from "./Attitude.module.css";

const REACH = 27;
const SIDES: { letter: string; view: ViewName; from: [number, number, number]; axis: string }[] = [
  { letter: "F", view: "front", from: [0, -1, 0], axis: "" },
  { letter: "R", view: "right", from: [1, 0, 0], axis: "x" },
  { letter: "B", view: "back", from: [0, 1, 0], axis: "y" },
  { letter: "L", view: "left", from: [-1, 0, 0], axis: "" },
];
const RIM = Array.from({ length: 49 }, (_, i): [number, number, number] => [
  Math.cos((i * Math.PI) / 24),
  Math.sin((i * Math.PI) / 24),
  0,
]);

export function Attitude() {
  const turn = useCamera((s) => s.turn);
  const inverse = new Quaternion(...turn).invert();
  const seen = (p: [number, number, number], reach = REACH) => {
    const v = new Vector3(...p).applyQuaternion(inverse);
    return { x: v.x * reach, y: -v.y * reach, near: v.z > -0.05 };
  };
  const look = (view: ViewName) => () => useView.getState().ask({ kind: "look", view });
  const path = (points: { x: number; y: number }[]) =>
    points.map((p, i) => `${i ? "L" : "M"}${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join("");
  const [eye, bob] = [seen([0, 0, 1], 31), seen([0, 0, -1], 31)];
  const ticks = RIM.filter((_, i) => i % 4 === 0)
    .map((p) => path([seen(p), seen(p, REACH - 4)]))
    .join("");
  const ends = [
    <g key="eye" role="button" aria-label="Look from top" onClick={look("top")}>
      <title>Look from above (z points here)</title>
      <circle cx={eye.x} cy={eye.y} r="4.6" fill="var(--panel)" stroke="var(--brass)" strokeWidth="2" />
    </g>,
    <g key="bob" role="button" aria-label="Look from bottom" onClick={look("bottom")}>
      <title>Look from below</title>
      <path d={`M${bob.x} ${bob.y + 7}l-4.5-8 2-4h5l2 4z`} fill="var(--sea)" />
    </g>,
  ];
  return (
    <svg className={styles.attitude} width="104" height="92" viewBox="-52 -46 104 92" aria-label="View directions">
      {eye.near ? ends[1] : ends[0]}
      <path
        d={`${path(RIM.map((p) => seen(p)))}Z`}
        fill="var(--panel)"
        fillOpacity="0.8"
        stroke="var(--line)"
        strokeWidth="1.4"
        role="button"
        aria-label="Look from a corner"
        onClick={look("corner")}
      />
      <path d={ticks} stroke="var(--soft)" strokeWidth="1" />
      <path d={path([eye, bob])} stroke="var(--brass)" strokeWidth="1.6" />
      {SIDES.map(({ letter, view, from, axis }) => {
        const at = seen(from, REACH + 9);
        const inner = seen(from, REACH - 9);
        return (
          <g key={letter}>
            {axis && (
              <path
                d={path([seen([0, 0, 0]), seen(from, REACH - 13)])}
                stroke="var(--soft)"
                strokeWidth="1"
                strokeDasharray="2 2"
              />
            )}
            {axis && (
              <text x={inner.x} y={inner.y + 3} className={styles.attitudeAxis}>
                {axis}
              </text>
            )}
            <g role="button" aria-label={`Look from ${view}`} onClick={look(view)}>
              <title>{`Look from the ${view}`}</title>
              <circle cx={at.x} cy={at.y} r="8" fill="transparent" />
              <text x={at.x} y={at.y + 4} className={styles.attitudeSide} opacity={at.near ? 1 : 0.45}>
                {letter}
              </text>
            </g>
          </g>
        );
      })}
      {eye.near ? ends[0] : ends[1]}
    </svg>
  );
}
