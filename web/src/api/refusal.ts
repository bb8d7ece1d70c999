import type { Message } from "./types";

/** What the server does not do, with its message. */
export class Refusal extends Error {
  constructor(
    readonly detail: Message,
    readonly status: number,
  ) {
    super(detail.text);
  }
}

/** The code of what is said of what only the build can tell. */
export const NOT_YET = "not-yet";

export const UNREACHED: Message = {
  level: "error",
  code: "unreached",
  text: "The server does not answer.",
  way_out: "Your change is kept here; it is sent again when the server is back.",
  place: {},
};
