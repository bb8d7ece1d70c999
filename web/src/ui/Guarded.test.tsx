import { MantineProvider } from "@mantine/core";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Guarded } from "./Guarded";

let broken = true;

function Fragile() {
  if (broken) throw new Error("nobody thought of this");
  return <p>as it should be</p>;
}

const shown = (anew: string) => (
  <MantineProvider>
    <Guarded what="The slip" anew={anew}>
      <Fragile />
    </Guarded>
    <p>what stands beside it</p>
  </MantineProvider>
);

describe("a part of the screen that fails", () => {
  beforeEach(() => {
    broken = true;
    vi.spyOn(console, "error").mockImplementation(() => undefined); // React tells every error there as well
  });
  afterEach(() => {
    cleanup();
    vi.restoreAllMocks();
  });

  it("says so, leaves the others standing, and can be tried again", () => {
    render(shown("a"));
    expect(screen.getByRole("alert").textContent).toContain("The slip cannot be shown: nobody thought of this");
    expect(screen.getByText("what stands beside it")).toBeTruthy();
    broken = false;
    fireEvent.click(screen.getByRole("button", { name: "Try again" }));
    expect(screen.getByText("as it should be")).toBeTruthy();
  });

  it("is tried anew when something else is selected", () => {
    const { rerender } = render(shown("a"));
    broken = false;
    rerender(shown("b"));
    expect(screen.getByText("as it should be")).toBeTruthy();
    expect(screen.queryByRole("alert")).toBeNull();
  });
});
