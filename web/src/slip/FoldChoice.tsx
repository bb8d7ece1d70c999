/** Whether a shape that folds over itself is built all the same; asked where it does. */
import { Button } from "@mantine/core";
import { usePart } from "../state/part";
import type { Draft } from "./draft";

interface Foldable {
  build_folded: boolean;
}

export function FoldChoice({ step, draft }: { step: Foldable & { id: string }; draft: Draft<Foldable> }) {
  const folded = usePart((s) => s.result?.steps[step.id]?.messages.some((m) => m.code === "fold") ?? false);
  if (!folded && !step.build_folded) return null;
  const next = !step.build_folded;
  return (
    <Button
      variant="default"
      fullWidth
      mt={8}
      onClick={() => draft.commit(next ? "Build all the same" : "Refuse folds", { build_folded: next })}
    >
      {next ? "Build it all the same" : "Refuse to build what folds"}
    </Button>
  );
}
