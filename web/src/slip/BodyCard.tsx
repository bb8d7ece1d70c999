/** The body that a step changes or copies. */
import type { ReactNode } from "react";
import { solidSources } from "../state/bodies";
import { Card } from "./Card";
import { SourcePick } from "./SourcePick";

interface Props {
  value: string;
  onPick: (step: string) => void;
  children?: ReactNode;
}

export function BodyCard({ value, onPick, children }: Props) {
  return (
    <Card title="Body">
      <SourcePick label="Body" kinds={solidSources()} value={value} onPick={onPick} />
      {children}
    </Card>
  );
}
