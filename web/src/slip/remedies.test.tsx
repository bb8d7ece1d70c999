/**
 * Ways out of a message can be taken as long as they are of the step as it is: else they would undo what was changed
 * since.
 */
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, render, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { BuildData, Part, Step, StepReport } from "../api/types";
import { usePart, withStep } from "../state/part";
import { Follower } from "../state/follower";
import { useView } from "../state/view";
import { Slip } from "./Slip";

const rounding = (value: number) =>
  ({
    kind: "rounding",
    id: "r",
    name: "Edges",
    off: false,
    edges: [],
    how: { by: "even", radius: value },
  }) as unknown as Step;

const document = { name: "Part", units: "mm", values: [], groups: [], steps: [rounding(4)] } as unknown as Part;

const report = (title: string) =>
  ({
    state: "failed",
    data: {},
    messages: [
      {
        level: "error",
        code: "c",
        text: "It does not fit.",
        way_out: "",
        place: {},
        remedies: [{ title, change: {} }],
      },
    ],
  }) as unknown as StepReport;

const way = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name });

beforeEach(() => {
  usePart.setState({
    id: "x",
    document,
    revision: 3,
    builtRevision: 3,
    saveState: "saved",
    result: { bodies: [], messages: [], steps: { r: report("Built") } } as unknown as BuildData,
  });
  useView.setState({ selected: "r", preview: null });
  render(
    <MemoryRouter>
      <QueryClientProvider client={new QueryClient()}>
        <MantineProvider>
          <Slip />
        </MantineProvider>
      </QueryClientProvider>
    </MemoryRouter>,
  );
});
afterEach(cleanup);

describe("the ways out of a message", () => {
  it("of a build wait until the part as it is has been built", () => {
    expect(way("Built").disabled).toBe(false);
    act(() => usePart.setState({ revision: 4 }));
    expect(way("Built").disabled).toBe(true);
    act(() => usePart.setState({ builtRevision: 4 }));
    expect(way("Built").disabled).toBe(false);
  });

  it("of a preview serve the step that it was of, and no other", () => {
    const preview = { step: "r", of: rounding(5), report: report("Seen"), mesh: null, replaces: [] };
    act(() => useView.setState({ preview }));
    expect(way("Seen").disabled).toBe(true);
    act(() => usePart.setState({ document: withStep<Step>(document, "r", () => rounding(5)), revision: 4 }));
    expect(way("Seen").disabled).toBe(false);
    act(() => usePart.setState({ document: withStep<Step>(document, "r", () => rounding(6)) }));
    expect(way("Seen").disabled).toBe(true);
  });

  it("of a preview give way to those of the build, once the step is another", () => {
    const preview = { step: "r", of: rounding(5), report: report("Seen"), mesh: null, replaces: [] };
    act(() => useView.setState({ preview }));
    act(() => usePart.setState({ result: { ...usePart.getState().result! } }));
    expect(way("Built").disabled).toBe(false);
  });
});

describe("what follows a hand", () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it.each([
    ["once the hand rests, for the whole", false, [true, false]],
    ["for nothing more when it is stopped under way", true, [true]],
  ])("asks %s", async (_, stopped, expected) => {
    const asked: boolean[] = [];
    let answer = () => {};
    const follower = new Follower<number>((_, moving) => {
      asked.push(moving);
      return new Promise((done) => (answer = done));
    });
    follower.to(1);
    if (stopped) follower.stop();
    answer();
    await follower.done;
    vi.runAllTimers();
    expect(asked).toEqual(expected);
  });
});
