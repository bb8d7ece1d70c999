/** Where the drawing of a view is: what the camera sees, cut open at a plane. */
import { Plane, Quaternion, Vector3 } from "three";

export function drawingUrl(part: string, turn: [number, number, number, number], cut: Plane | undefined): string {
  const q = new Quaternion(...turn);
  const triple = (v: Vector3) =>
    v
      .toArray()
      .map((n) => Number(n.toFixed(9)))
      .join(",");
  const query = new URLSearchParams({
    towards: triple(new Vector3(0, 0, 1).applyQuaternion(q)),
    right: triple(new Vector3(1, 0, 0).applyQuaternion(q)),
  });
  if (cut !== undefined) {
    query.set("point", triple(cut.coplanarPoint(new Vector3())));
    query.set("away", triple(cut.normal.clone().negate()));
  }
  return `/api/parts/${part}/drawing.svg?${query}`;
}
