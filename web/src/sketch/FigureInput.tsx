/** The number of a dimension, typed where it stands. */
import { useState } from "react";
import type { Dimension, SketchData, Units } from "../api/types";
import { inUnits, trim } from "../ui/format";
import { parseExpression } from "../ui/ExpressionField";
import { figurePlace, type Place } from "./Drawing";
import { spanOf } from "./place";
import { useSketch } from "./sketchStore";
import { edit } from "./changes";
import clsx from "clsx";
import styles from "./FigureInput.module.css";

/** A driving dimension shows its value, a reference one what it measures. */
function startText(d: Dimension | undefined, data: SketchData, units: Units): string {
  if (d === undefined) return "";
  const measured = data.measured[d.id];
  if (d.driving || measured === undefined) return String(d.value);
  return d.kind === "angle" ? trim((measured * 180) / Math.PI, 8) : trim(inUnits(measured, units), 8);
}

export function FigureInput({ id, data, place, units }: { id: string; data: SketchData; place: Place; units: Units }) {
  const dimension = data.sketch.dimensions.find((d) => d.id === id);
  const [text, setText] = useState(() => startText(dimension, data, units));
  if (dimension === undefined) return null;
  const span = spanOf(data.sketch, dimension);
  if (span === null) return null;
  const scale = Math.abs(place([1, 0])[0] - place([0, 0])[0]);
  const [x, y] = place(figurePlace(dimension, span, scale));
  const close = () => useSketch.getState().set({ editing: null });
  const commit = () => {
    const value = parseExpression(text, false);
    close();
    if (value === undefined || value === null || (dimension.driving && value === dimension.value)) return;
    void edit("Change a dimension", (sketch) => ({
      ...sketch,
      dimensions: sketch.dimensions.map((d) => (d.id === id ? { ...d, value, driving: true } : d)),
    }));
  };
  return (
    <input
      className={clsx(styles.figureInput, "figures")}
      style={{ left: x - 48, top: y - 14 }}
      value={text}
      autoFocus
      aria-label="Value of the dimension"
      onFocus={(e) => e.currentTarget.select()}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") commit();
        if (e.key === "Escape") close();
      }}
    />
  );
}
