/** The wall of a thickened surface along its path, where a table gives it: its marks are dragged. */
import type { StepReport, Units } from "../../api/types";
import { tableMarks, type OwnLane } from "../../state/laws";
import { inUnits } from "../../ui/format";
import type { ThickenedStep } from "./step";

export function wallLanes(step: ThickenedStep, data: StepReport["data"], units: Units): OwnLane[] {
  const { wall } = step;
  if (typeof wall !== "object" || data.along === undefined) return [];
  const marks = tableMarks(wall.points, units === "in" ? 25.4 : 1, (points) => ({ wall: { ...wall, points } }));
  const y = data.along.wall.map((v) => inUnits(v, units));
  return [{ title: "wall", unit: units, stations: data.along.station, y, marks }];
}
