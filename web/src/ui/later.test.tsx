import { MantineProvider } from "@mantine/core";
import { cleanup, configure, render, screen } from "@testing-library/react";
import { useEffect } from "react";
import { afterEach, describe, it } from "vitest";
import { PATIENCE } from "../test/patience";
import { Guarded } from "./Guarded";
import { later } from "./later";

const Part = ({ word }: { word: string }) => <p>{word}</p>;

configure({ asyncUtilTimeout: PATIENCE });
afterEach(cleanup);

describe("a component that comes later", () => {
  it("says that it waits, then stands", async () => {
    const Shown = later(() => Promise.resolve({ default: Part }));
    render(<Shown word="here" waiting="waiting" />);
    screen.getByText("waiting");
    await screen.findByText("here");
  });
  it("stands at once when it was loaded ahead", async () => {
    const Shown = later(() => Promise.resolve({ default: Part }));
    await Shown.ahead();
    render(<Shown word="here" />);
    screen.getByText("here");
  });
  it("stands also when it comes between its being drawn and its effects", async () => {
    let come: (part: { default: typeof Part }) => void = () => undefined;
    const Shown = later(() => new Promise<{ default: typeof Part }>((resolve) => (come = resolve)));
    const early = Shown.ahead();
    const Early = () => {
      useEffect(() => come({ default: Part }), []);
      return <Shown word="here" waiting="waiting" />;
    };
    render(<Early />);
    await early;
    await screen.findByText("here");
  });
  it("tells when it cannot be loaded", async () => {
    const Shown = later<{ word: string }>(() => Promise.reject(new Error("gone")));
    render(
      <MantineProvider>
        <Guarded what="The stage">
          <Shown word="here" />
        </Guarded>
      </MantineProvider>,
    );
    await screen.findByText(/The stage cannot be shown: gone/);
  });
});
