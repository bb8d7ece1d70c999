/**
 * The cards of every room, on the steps of the stored parts: they are shown without fault, and a size that is typed
 * changes its step alone.
 */
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Field, Part, Step } from "../api/types";
import { BoundTo } from "../slip/StepField";
import { fieldsOf } from "../state/fields";
import { usePart } from "../state/part";
import { useView } from "../state/view";
import { roomKinds, roomOf } from "./rooms";

/** A stored step as the server hands it out, with the defaults of the fields that its file leaves out. */
function filled(fields: Record<string, Field>, thing: Record<string, unknown>): Record<string, unknown> {
  const whole: Record<string, unknown> = { ...thing };
  for (const [name, field] of Object.entries(fields)) whole[name] = filledValue(field, thing[name]);
  return whole;
}

function filledValue(field: Field, value: unknown): unknown {
  if (value === undefined) return field.default ?? (field.each !== undefined ? [] : null);
  const own =
    field.any?.find((f) => (f.forms !== undefined) === (typeof value === "object" && value !== null)) ?? field;
  if (Array.isArray(value)) return own.each === undefined ? value : value.map((v) => filledValue(own.each!, v));
  if (typeof value !== "object" || value === null || own.forms === undefined) return value;
  const thing = value as Record<string, unknown>;
  const form = own.forms.find(
    (f) =>
      Object.entries(f.tags).every(([k, v]) => thing[k] === v) &&
      Object.keys(thing).every((k) => k in f.fields || k in f.tags),
  );
  return form === undefined ? value : filled(form.fields, thing);
}

const STORED = join(__dirname, "../../../tests/stored/v1");
const DEMO = join(__dirname, "../../../demo"); // kinds that are newer than the stored parts
const PARTS = [STORED, DEMO]
  .flatMap((folder) =>
    readdirSync(folder)
      .sort()
      .map((file) => join(folder, file)),
  )
  .map((file) => JSON.parse(readFileSync(file, "utf8")) as Part)
  .map((part) => ({
    ...part,
    steps: part.steps.map((s) => ({ off: false, ...filled(fieldsOf(s.kind)!.fields, { ...s }) }) as unknown as Step),
  }));

/** The first step of a kind among the stored parts, with its part. */
function stepOf(kind: string): { part: Part; step: Step } {
  const part = PARTS.find((p) => p.steps.some((s) => s.kind === kind))!;
  return { part, step: part.steps.find((s) => s.kind === kind)! };
}

const change = vi.fn<(label: string, edit: (part: Part) => Part) => Promise<void>>(() => Promise.resolve());

function show(part: Part, step: Step) {
  usePart.setState({ id: "x", document: part, result: null, change });
  useView.setState({ selected: step.id });
  const { Cards } = roomOf(step.kind)!;
  render(
    <MantineProvider>
      <QueryClientProvider client={new QueryClient()}>
        <BoundTo step={step}>
          <Cards step={step} report={undefined} />
        </BoundTo>
      </QueryClientProvider>
    </MantineProvider>,
  );
}

vi.setConfig({ testTimeout: 60_000 }); // a busy machine is slow, not wrong

describe("the cards of every room", () => {
  beforeEach(() => {
    change.mockClear();
    vi.stubGlobal(
      "fetch",
      vi.fn(() => new Promise(() => undefined)), // the server is still at work
    );
  });
  afterEach(cleanup);

  it.each(roomKinds())("show a stored step, and change what is typed of it alone: %s", (kind) => {
    const { part, step } = stepOf(kind);
    show(part, step);
    expect(document.body.textContent.length).toBeGreaterThan(3);
    expect(change).not.toHaveBeenCalled();
    const boxes = screen.queryAllByRole("textbox").filter((box) => box.closest(".expression") !== null);
    for (const box of boxes.slice(0, 3)) {
      change.mockClear();
      fireEvent.change(box, { target: { value: "12.5" } });
      fireEvent.keyDown(box, { key: "Enter" });
      fireEvent.blur(box);
      if (change.mock.calls.length === 0) continue; // it was 12.5 already
      const after = change.mock.calls[0]![1](part);
      const changed = after.steps.filter((s, i) => JSON.stringify(s) !== JSON.stringify(part.steps[i]));
      expect(changed.map((s) => s.id)).toEqual([step.id]);
      expect(JSON.stringify(changed[0])).toContain("12.5");
    }
  });
});
