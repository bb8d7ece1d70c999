/** What lies over the stage: what a click would take, the scale bar, the attitude glyph, view buttons. */
import { ActionIcon, Group, Menu, Tooltip } from "@mantine/core";
import { Quaternion, Vector3 } from "three";
import { usePart } from "../state/part";
import { useView, type Shading, type ViewName } from "../state/view";
import { inUnits, trim } from "../ui/format";
import { useCamera } from "./cameraState";

const SHADINGS: { key: Shading; label: string }[] = [
  { key: "edges", label: "Shaded with edges" }, { key: "shaded", label: "Shaded" },
  { key: "wire", label: "Edges only" }, { key: "ghost", label: "See-through" },
];

export function Overlay() {
  const hover = useView((s) => s.hover);
  const shading = useView((s) => s.shading);
  const hidden = useView((s) => s.hidden);
  const { ask, set } = useView.getState();
  return (
    <>
      {hover && <div className="hover-tag" role="status">{hover}</div>}
      <Group className="view-buttons" gap={4}>
        <Tooltip label="Fit the part (F)"><ActionIcon variant="default" aria-label="Fit the part" onClick={() => ask({ kind: "fit" })}>⤢</ActionIcon></Tooltip>
        <Menu withinPortal>
          <Menu.Target><ActionIcon variant="default" aria-label="How things are shown">◐</ActionIcon></Menu.Target>
          <Menu.Dropdown>
            {SHADINGS.map((s) => (
              <Menu.Item key={s.key} onClick={() => set({ shading: s.key })}>{shading === s.key ? "● " : "○ "}{s.label}</Menu.Item>
            ))}
            <Menu.Divider />
            <Menu.Item onClick={() => set({ hidden: { ...hidden, sketches: !hidden.sketches } })}>{hidden.sketches ? "Show sketches" : "Hide sketches"}</Menu.Item>
            <Menu.Item onClick={() => set({ hidden: { ...hidden, planes: !hidden.planes } })}>{hidden.planes ? "Show planes" : "Hide planes"}</Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </Group>
      <Attitude />
      <ScaleBar />
    </>
  );
}

const ARMS: { axis: [number, number, number]; label: string; view: ViewName; back: ViewName; colour: string }[] = [
  { axis: [1, 0, 0], label: "x", view: "right", back: "left", colour: "var(--madder)" },
  { axis: [0, 1, 0], label: "y", view: "back", back: "front", colour: "var(--brass-ink)" },
  { axis: [0, 0, 1], label: "z", view: "top", back: "bottom", colour: "var(--sea)" },
];

/** A plumb bob on three arms: click an arm's end to look along it. */
function Attitude() {
  const turn = useCamera((s) => s.turn);
  const { ask } = useView.getState();
  const inverse = new Quaternion(...turn).invert();
  const arms = ARMS.flatMap(({ axis, label, view, back, colour }) =>
    [1, -1].map((sign) => {
      const v = new Vector3(...axis).multiplyScalar(sign).applyQuaternion(inverse);
      return { key: `${label}${sign}`, x: v.x * 26, y: -v.y * 26, z: v.z, label, sign, view: sign > 0 ? view : back, colour };
    })).sort((a, b) => a.z - b.z);
  return (
    <svg className="attitude" width="84" height="84" viewBox="-42 -42 84 84" aria-label="View directions">
      <circle r="38" fill="var(--panel)" opacity="0.72" stroke="var(--line)" />
      {arms.map((a) => (
        <g key={a.key} onClick={() => ask({ kind: "look", view: a.view })} role="button" aria-label={`Look from ${a.view}`} tabIndex={-1}>
          {a.sign > 0 && <line x1="0" y1="0" x2={a.x} y2={a.y} stroke={a.colour} strokeWidth="2" />}
          {a.sign > 0
            ? <path d={`M${a.x} ${a.y - 7}l6 5-2.5 8h-7l-2.5-8z`} fill={a.colour} />
            : <circle cx={a.x} cy={a.y} r="3.4" fill="var(--panel)" stroke={a.colour} />}
          {a.sign > 0 && <text x={a.x} y={a.y + 4} textAnchor="middle" fontSize="9" fontWeight="700" fill="var(--panel)">{a.label}</text>}
        </g>
      ))}
    </svg>
  );
}

function ScaleBar() {
  const zoom = useCamera((s) => s.zoom);
  const units = usePart((s) => s.document?.units ?? "mm");
  const wanted = inUnits(110 / zoom, units);
  const power = 10 ** Math.floor(Math.log10(wanted));
  const nice = [5, 2, 1].find((n) => n * power <= wanted)! * power;
  const pixels = (nice * (units === "in" ? 25.4 : 1)) * zoom;
  return (
    <div className="scale-bar figures" style={{ width: pixels }} aria-label="Scale">
      <span>{trim(nice)} {units}</span>
    </div>
  );
}
