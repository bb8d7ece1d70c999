/**
 * Handles are drawn over bodies, so they are met by the pointer before them, however deep they lie: also those that
 * come under a pointer that rests on a body, which would keep them from it until it is left.
 */
import { useThree } from "@react-three/fiber";
import { useEffect } from "react";
import type { Intersection } from "three";

const isHandle = ({ object }: Intersection): boolean => object.userData.handle !== undefined;

/** Handles first, each of the two in the order of their distance. */
export const handlesFirst = (met: Intersection[]): Intersection[] => [
  ...met.filter(isHandle),
  ...met.filter((one) => !isHandle(one)),
];

export function HandlesFirst() {
  const setEvents = useThree((s) => s.setEvents);
  useEffect(() => setEvents({ filter: handlesFirst }), [setEvents]);
  return null;
}
