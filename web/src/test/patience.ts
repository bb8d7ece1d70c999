/** Milliseconds after which what has not come never will, on a busy machine too. */
export const PATIENCE = 60_000;
