import { MantineProvider } from "@mantine/core";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Part, Step, StepOf } from "../api/types";
import { beginning } from "../state/beginning";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import { BoundTo, fieldFor } from "./StepField";

const EMPTY = { name: "x", units: "in", values: [], steps: [] } as unknown as Part;
const HELIX = { ...beginning(EMPTY, "helix", "Helix"), radius: "wall * 2", plane: null } as unknown as StepOf<"helix">;
const Field = fieldFor<StepOf<"helix">>();
const change = vi.fn<(label: string, edit: (part: Part) => Part) => Promise<void>>(() => Promise.resolve());

function show(field: React.ReactNode) {
  const document = { ...EMPTY, steps: [HELIX as Step] };
  usePart.setState({ id: "x", document, result: null, change });
  useView.setState({ selected: HELIX.id });
  render(
    <MantineProvider>
      <BoundTo step={HELIX as Step}>{field}</BoundTo>
    </MantineProvider>,
  );
}

/** What is kept of a field in which something is typed; nothing where that changes nothing. */
function typed(label: string, text: string): [string, unknown] | undefined {
  change.mockClear();
  const box = screen.getByRole("textbox", { name: label });
  fireEvent.change(box, { target: { value: text } });
  fireEvent.blur(box);
  const call = change.mock.calls[0];
  return call && [call[0], call[1]({ ...EMPTY, steps: [HELIX] }).steps[0]];
}

describe("a field that is bound to a step", () => {
  afterEach(cleanup);

  it("has the label, the unit and the value of its field, and keeps what is typed", () => {
    show(<Field of="radius" still />);
    expect(screen.getByRole("textbox", { name: "Radius" })).toHaveProperty("value", "wall * 2");
    expect(document.body.textContent).toContain("in");
    expect(typed("Radius", "12")).toEqual(["Change radius", { ...HELIX, radius: 12 }]);
    expect(typed("Radius", "")).toBeUndefined();
  });

  it("may be left out where the kind allows it, unless it is needed here", () => {
    show(
      <>
        <Field of="end_radius" empty="the same" still />
        <Field of="pitch" needed still />
      </>,
    );
    expect(screen.getByPlaceholderText("the same")).toBeTruthy();
    expect(typed("Radius at the end", "5")).toEqual(["Change radius at the end", { ...HELIX, end_radius: 5 }]);
    expect(typed("Pitch", " ")).toBeUndefined();
  });

  it("has another label, or another unit, where it is told so", () => {
    show(<Field of="start_angle" label="Begins at" unit="deg" still />);
    expect(typed("Begins at", "30")?.[0]).toBe("Change begins at");
    expect(document.body.textContent).toContain("deg");
  });

  it("outside of a step is a fault", () => {
    vi.spyOn(console, "error").mockImplementation(() => undefined);
    expect(() =>
      render(
        <MantineProvider>
          <Field of="radius" />
        </MantineProvider>,
      ),
    ).toThrow("bound to no step");
  });
});
