/** The ways out of a message that can be taken at once, each undone by one undo. */
import { Button } from "@mantine/core";
import type { Message, Remedy, Step } from "../api/types";
import { usePart, withStep } from "../state/part";

function take(step: string, { title, change }: Remedy): void {
  void usePart
    .getState()
    .change(title, (p) => withStep(p, step, (s) => ({ ...s, ...(change as Partial<Step>) }) as Step));
}

export function Remedies({ step, message }: { step: string | null; message: Message }) {
  const offered = message.remedies ?? [];
  if (step === null) return null;
  return offered.map((remedy) => (
    <Button key={remedy.title} size="compact-xs" variant="default" onClick={() => take(step, remedy)}>
      {remedy.title}
    </Button>
  ));
}
