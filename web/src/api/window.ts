/** By its name the server knows a window again: what it asks between builds is computed where its last question was. */
export const WINDOW = crypto.randomUUID();
