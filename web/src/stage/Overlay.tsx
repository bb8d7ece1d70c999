/** What lies over the stage: what a click would take, the scale bar, the attitude glyph, view buttons. */
import { ActionIcon, Group, Menu, Tooltip } from "@mantine/core";
import { usePart } from "../state/part";
import { useView, type Shading } from "../state/view";
import { ScaleBar } from "../ui/ScaleBar";
import { Attitude } from "./Attitude";
import { SliceBar } from "./SliceBar";
import { useCamera } from "./cameraState";
import { drawingUrl } from "./drawingUrl";
import { useSlicePlanes } from "./slicing";
import styles from "./Overlay.module.css";

const SHADINGS: { key: Shading; label: string }[] = [
  { key: "edges", label: "Shaded with edges" },
  { key: "shaded", label: "Shaded" },
  { key: "wire", label: "Edges only" },
  { key: "ghost", label: "See-through" },
];

const FINENESS = [
  { key: "coarse", label: "Drawn coarsely" },
  { key: "normal", label: "Drawn as built" },
  { key: "fine", label: "Drawn finely" },
] as const;

export function Overlay() {
  const hover = useView((s) => s.hover);
  const shading = useView((s) => s.shading);
  const hidden = useView((s) => s.hidden);
  const fineness = useView((s) => s.fineness);
  const frames = useView((s) => s.frames);
  const slice = useView((s) => s.slice);
  const { ask, set } = useView.getState();
  return (
    <>
      {hover && (
        <div className={styles.hoverTag} data-testid="hover-tag" role="status">
          {hover}
        </div>
      )}
      <Group className={styles.viewButtons} gap={4}>
        <Tooltip label="Fit the part (F)">
          <ActionIcon variant="default" aria-label="Fit the part" onClick={() => ask({ kind: "fit" })}>
            ⤢
          </ActionIcon>
        </Tooltip>
        <Menu withinPortal>
          <Menu.Target>
            <ActionIcon variant="default" aria-label="How things are shown">
              ◐
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            {SHADINGS.map((s) => (
              <Menu.Item key={s.key} onClick={() => set({ shading: s.key })}>
                {shading === s.key ? "● " : "○ "}
                {s.label}
              </Menu.Item>
            ))}
            <Menu.Divider />
            {FINENESS.map((f) => (
              <Menu.Item key={f.key} onClick={() => set({ fineness: f.key })}>
                {fineness === f.key ? "● " : "○ "}
                {f.label}
              </Menu.Item>
            ))}
            <Menu.Divider />
            <Menu.Item onClick={() => set({ frames: !frames })}>
              {frames ? "Hide frames along the path" : "Show frames along the path"}
            </Menu.Item>
            <Menu.Item onClick={() => set({ slice: slice === null ? { by: "station", at: 0, flipped: false } : null })}>
              {slice === null ? "Cut at the section's plane" : "Stop cutting"}
            </Menu.Item>
            <DrawView />
            <Menu.Divider />
            <Menu.Item onClick={() => set({ hidden: { ...hidden, sketches: !hidden.sketches } })}>
              {hidden.sketches ? "Show sketches" : "Hide sketches"}
            </Menu.Item>
            <Menu.Item onClick={() => set({ hidden: { ...hidden, planes: !hidden.planes } })}>
              {hidden.planes ? "Show planes" : "Hide planes"}
            </Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </Group>
      <SliceBar />
      <Attitude />
      <StageScale />
    </>
  );
}

/** What is seen as a drawing with hidden lines, cut open as it is on the screen. */
function DrawView() {
  const part = usePart((s) => (s.result?.bodies.length ? s.id : null));
  const turn = useCamera((s) => s.turn);
  const cut = useSlicePlanes()[0];
  if (part === null) return null;
  return (
    <Menu.Item component="a" href={drawingUrl(part, turn, cut)} download>
      Save this view as a drawing (SVG)
    </Menu.Item>
  );
}

function StageScale() {
  const zoom = useCamera((s) => s.zoom);
  const units = usePart((s) => s.document?.units ?? "mm");
  return <ScaleBar scale={zoom} units={units} className={styles.scaleBar} />;
}
