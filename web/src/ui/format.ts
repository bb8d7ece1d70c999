/** Numbers as the designer reads them. */
import type { Units } from "../api/types";

const MM_PER_IN = 25.4;

export function trim(value: number, digits = 4): string {
  if (!Number.isFinite(value)) return "∞";
  if (Math.abs(value) < 5e-7) return "0";
  const text = value.toPrecision(digits);
  const plain = text.includes("e") ? value.toFixed(Math.abs(value) < 1 ? 6 : 0) : text;
  return plain.includes(".") ? plain.replace(/\.?0+$/, "") || "0" : plain;
}

export function length(mm: number, units: Units, digits = 4): string {
  return `${trim(units === "in" ? mm / MM_PER_IN : mm, digits)} ${units}`;
}

export function area(mm2: number, units: Units): string {
  return `${trim(units === "in" ? mm2 / MM_PER_IN ** 2 : mm2, 5)} ${units}²`;
}

export function volume(mm3: number, units: Units): string {
  return units === "in" ? `${trim(mm3 / MM_PER_IN ** 3, 6)} in³` : `${trim(mm3 / 1000, 6)} cm³`;
}

/** From mm³ and kg/m³; in grams under a kilogram. */
export function mass(mm3: number, density: number, units: Units): string {
  const kg = mm3 * density * 1e-9;
  if (units === "in") return `${trim(kg / 0.45359237)} lb`;
  return kg < 1 ? `${trim(kg * 1000)} g` : `${trim(kg)} kg`;
}

export function megabytes(bytes: number): string {
  return bytes < 1e5 ? `${trim(bytes / 1000, 3)} kB` : `${trim(bytes / 1e6, 3)} MB`;
}

/** A length in mm as a bare number of the part's unit. */
export function inMm(value: number, units: Units): number {
  return units === "in" ? value * 25.4 : value;
}

export function inUnits(mm: number, units: Units): number {
  return units === "in" ? mm / MM_PER_IN : mm;
}
