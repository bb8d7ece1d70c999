/** The colours of the stage, by day and by night. */
export const COLOURS = {
  light: {
    body: "#c3cdc9",
    edge: "#1e2b38",
    path: "#b23a48",
    section: "#0e6a6b",
    rail: "#a97b2c",
    plane: "#8a8f8d",
    free: "#5d6670",
    cut: "#b23a48",
    pick: "#a97b2c",
    contour: "#cdbf9f",
  },
  dark: {
    body: "#6f8086",
    edge: "#0c1319",
    path: "#e0727e",
    section: "#5fb3ae",
    rail: "#d3a657",
    plane: "#77828a",
    free: "#9da8b0",
    cut: "#e0727e",
    pick: "#d3a657",
    contour: "#2c3d4a",
  },
};
export type Palette = (typeof COLOURS)["light"];
