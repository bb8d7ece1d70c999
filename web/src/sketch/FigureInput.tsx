/** The number of a dimension, typed where it stands. */
import { useState } from "react";
import type { SketchData } from "../api/types";
import { parseExpression } from "../slip/ExpressionField";
import { figurePlace, type Place } from "./Drawing";
import { spanOf } from "./place";
import { useSketch } from "./sketchStore";

export function FigureInput({ id, data, place }: { id: string; data: SketchData; place: Place }) {
  const dimension = data.sketch.dimensions.find((d) => d.id === id);
  const [text, setText] = useState(String(dimension?.value ?? ""));
  if (dimension === undefined) return null;
  const span = spanOf(data.sketch, dimension);
  if (span === null) return null;
  const scale = Math.abs(place([1, 0])[0] - place([0, 0])[0]);
  const [x, y] = place(figurePlace(dimension, span, scale));
  const close = () => useSketch.getState().set({ editing: null });
  const commit = () => {
    const value = parseExpression(text, false);
    close();
    if (value === undefined || value === null || value === dimension.value) return;
    void useSketch.getState().edit("Change a dimension", (sketch) => ({
      ...sketch, dimensions: sketch.dimensions.map((d) => (d.id === id ? { ...d, value, driving: true } : d)),
    }));
  };
  return (
    <input className="figure-input figures" style={{ left: x - 48, top: y - 14 }} value={text} autoFocus aria-label="Value of the dimension"
      onFocus={(e) => e.currentTarget.select()} onChange={(e) => setText(e.currentTarget.value)} onBlur={commit}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === "Enter") commit();
        if (e.key === "Escape") close();
      }} />
  );
}
