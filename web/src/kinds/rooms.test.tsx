import { MantineProvider } from "@mantine/core";
import { fireEvent, render, screen } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import kinds from "../api/kinds.gen.json";
import type { Part, Step } from "../api/types";
import { PlainCards } from "../slip/PlainCards";
import type { KindFields } from "../api/types";
import { learnKinds, usesOf, withLengths } from "../state/fields";
import { usePart } from "../state/part";
import { newPlain } from "../state/plain";
import { roomKinds, roomOf } from "./rooms";

const PEG: KindFields = {
  gives: "body",
  title: "A round peg on a plane.",
  fields: {
    plane: {
      forms: [
        { title: "", tags: { kind: "principal" }, fields: { plane: { choice: ["XY", "XZ", "YZ"] } } },
        { title: "", tags: { kind: "step" }, fields: { step: { type: "text", use: "plane" } } },
      ],
    },
    diameter: { measure: "length", default: 10 },
    side: { choice: ["along", "against"], default: "along" },
    hollow: { type: "switch", default: false },
  },
};

const EMPTY: Part = {
  format: "leadline-part",
  version: 1,
  name: "Pegs",
  units: "mm",
  material: null,
  values: [],
  steps: [],
  sinker: null,
  groups: [],
  colours: {},
  files: {},
};

describe("rooms", () => {
  it("are there for each kind that the server has, and for no other", () => {
    expect(roomKinds()).toEqual(Object.keys(kinds).sort());
    for (const kind of roomKinds()) expect(roomOf(kind)!.words.length).toBeGreaterThan(3);
  });
});

describe("a kind without a room", () => {
  beforeEach(() => learnKinds({ peg: PEG }));

  it("begins with what its fields say, and its steps and lengths are found", () => {
    const peg = newPlain(EMPTY, "peg")!;
    expect(peg).toEqual({
      id: "peg1",
      name: "Peg",
      off: false,
      kind: "peg",
      plane: { kind: "principal", plane: "XY" },
      diameter: 10,
      side: "along",
      hollow: false,
    });
    const on = { ...peg, plane: { kind: "step", step: "plane1" } } as unknown as Step;
    expect(usesOf(on)).toEqual([{ to: "plane1", use: "plane" }]);
    expect(withLengths(on, (v) => `${v} mm`)).toMatchObject({ diameter: "10 mm", side: "along" });
    expect(withLengths(on, (v) => v)).toBe(on);
  });

  it("has cards for each of its fields, which change the step", () => {
    const change = vi.fn<(label: string, edit: (part: Part) => Part) => Promise<void>>(() => Promise.resolve());
    const peg = newPlain(EMPTY, "peg")!;
    const part = { ...EMPTY, steps: [peg] };
    usePart.setState({ id: "x", document: part, result: null, change });
    vi.stubGlobal(
      "fetch",
      vi.fn(() => new Promise(() => undefined)),
    );
    render(
      <MantineProvider>
        <PlainCards step={peg} />
      </MantineProvider>,
    );
    expect(screen.getByText("A round peg on a plane.")).toBeTruthy();
    const box = screen.getByLabelText("Diameter");
    fireEvent.change(box, { target: { value: "12 + 3" } });
    fireEvent.blur(box);
    expect(change.mock.calls[0]![0]).toBe("Change diameter");
    expect(change.mock.calls[0]![1](part).steps[0]).toMatchObject({ diameter: "12 + 3" });
    fireEvent.click(screen.getByLabelText("Hollow"));
    expect(change.mock.calls[1]![1](part).steps[0]).toMatchObject({ hollow: true });
  });
});
