/**
 * A message of a step: a click goes there, and its ways out that can be taken at once are buttons, each undone by one
 * undo.
 */
import { Button } from "@mantine/core";
import type { Message, Remedy, Step } from "../api/types";
import { goTo } from "../state/goTo";
import { usePart, withStep } from "../state/part";
import { MessageLine } from "../ui/MessageLine";

function take(step: string, { title, change }: Remedy): void {
  void usePart
    .getState()
    .change(title, (p) => withStep(p, step, (s) => ({ ...s, ...(change as Partial<Step>) }) as Step));
}

interface StepMessageProps {
  step: string | null;
  message: Message;
  /** Whether it is said of the step as it is: ways out of what it was before would undo what was changed since. */
  asItIs: boolean;
}

export function StepMessage({ step, message, asItIs }: StepMessageProps) {
  const offered = step === null ? [] : (message.remedies ?? []);
  return (
    <MessageLine message={message} onGo={() => goTo(step, message)}>
      {offered.length > 0 &&
        offered.map((remedy) => (
          <Button
            key={remedy.title}
            size="compact-xs"
            variant="default"
            disabled={!asItIs}
            onClick={() => take(step!, remedy)}
          >
            {remedy.title}
          </Button>
        ))}
    </MessageLine>
  );
}
