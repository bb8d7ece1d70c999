/** Laws along a path, as the station strip shows and drags them. */

/** A mark of a law: where it stands, and the step's fields when it is moved there. */
export interface Mark {
  at: number;
  value: number;
  fixed: boolean;
  moved: (at: number, value: number) => Record<string, unknown>;
}
