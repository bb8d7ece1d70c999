/** "end_radius" as "End radius". */
export const worded = (name: string): string => `${name[0]!.toUpperCase()}${name.slice(1).replaceAll("_", " ")}`;
