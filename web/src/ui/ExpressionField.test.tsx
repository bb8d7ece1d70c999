import { MantineProvider } from "@mantine/core";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { ExpressionField } from "./ExpressionField";

const field = (onCommit: (value: unknown) => void, shown = true) => (
  <MantineProvider>
    {shown && <ExpressionField label="Along y" unit="mm" value={0} onCommit={onCommit} />}
  </MantineProvider>
);

const type = (text: string) => fireEvent.change(screen.getByLabelText("Along y"), { target: { value: text } });

describe("a field for a number", () => {
  afterEach(cleanup);

  it("keeps what was typed when it is taken away", () => {
    const commit = vi.fn();
    const { rerender } = render(field(commit));
    type("30");
    expect(commit).not.toHaveBeenCalled();
    rerender(field(commit, false));
    expect(commit.mock.calls).toEqual([[30]]);
  });

  it("keeps it once, and what was given up not at all", () => {
    const commit = vi.fn();
    const { rerender } = render(field(commit));
    type("30");
    fireEvent.blur(screen.getByLabelText("Along y"));
    type("40");
    fireEvent.keyDown(screen.getByLabelText("Along y"), { key: "Escape" });
    rerender(field(commit, false));
    expect(commit.mock.calls).toEqual([[30]]);
  });

  it("keeps nothing that is no value", () => {
    const commit = vi.fn();
    const { rerender } = render(field(commit));
    type("");
    rerender(field(commit, false));
    expect(commit).not.toHaveBeenCalled();
  });
});
