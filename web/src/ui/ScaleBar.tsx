/** A bar of a round length, as long as that is on the screen. */
import clsx from "clsx";
import type { Units } from "../api/types";
import { inUnits, trim } from "./format";
import styles from "./ScaleBar.module.css";

const WANTED_PX = 110;

/** `scale` is in pixels per mm; the class says where it stands. */
export function ScaleBar({ scale, units, className }: { scale: number; units: Units; className?: string }) {
  const wanted = inUnits(WANTED_PX / scale, units);
  const power = 10 ** Math.floor(Math.log10(wanted));
  const nice = [5, 2, 1].find((n) => n * power <= wanted)! * power;
  const pixels = nice * (units === "in" ? 25.4 : 1) * scale;
  return (
    <div className={clsx(styles.bar, "figures", className)} style={{ width: pixels }} aria-label="Scale">
      <span>
        {trim(nice)} {units}
      </span>
    </div>
  );
}
