/** A field of a card that is bound to a field of the card's step: it knows its label, unit and value by itself. */
import { createContext, useContext, type ReactElement, type ReactNode } from "react";
import type { Expression, Field, Measure, Step, Units } from "../api/types";
import { fieldsOf } from "../state/fields";
import { usePart } from "../state/part";
import { ExpressionField } from "../ui/ExpressionField";
import { worded } from "../ui/worded";
import { useDraft, type Draft } from "./draft";

const Bound = createContext<{ step: Step; draft: Draft<Step> } | null>(null);

/** Binds the fields in it to a step. */
export function BoundTo({ step, children }: { step: Step; children: ReactNode }) {
  const draft = useDraft<Step>(step.id);
  return <Bound value={{ step, draft }}>{children}</Bound>;
}

/** The unit that stands behind a quantity. */
export const unitOf = (measure: Measure, units: Units): string =>
  ({ length: units, angle: "°", turns: "turns", number: "" })[measure];

/** What a field is called on cards. */
export const labelOf = (name: string, field: Field | undefined): string => field?.label || worded(name);

type Quantities<T> = { [F in keyof T]-?: Extract<T[F], Expression> extends never ? never : F }[keyof T];

interface Props<T> {
  of: Quantities<T> & string;
  /** What it is called, where other fields make that something else than usual. */
  label?: string;
  /** What stands in it while it is left out. */
  empty?: string;
  /** It cannot be left out here, though the kind could do without it. */
  needed?: boolean;
  /** The unit, where it is not that of its measure. */
  unit?: string;
  /** Whether the body follows what is typed; not where it cannot be seen in it. */
  still?: boolean;
}

function StepField<T extends Step>({ of, label: called, empty, needed, unit, still }: Props<T>): ReactElement {
  const bound = useContext(Bound);
  const units = usePart((s) => s.document?.units ?? "mm");
  if (bound === null) throw new Error(`The field ${of} is bound to no step`);
  const { step, draft } = bound;
  const field = fieldsOf(step.kind)?.fields[of];
  if (field?.measure === undefined) throw new Error(`${of} of ${step.kind} is no quantity`);
  const label = called ?? labelOf(of, field);
  const leavable = field.empty === true && needed !== true;
  const patch = (value: Expression | null): Partial<Step> => ({ [of]: value ?? (leavable ? null : 0) });
  return (
    <ExpressionField
      label={label}
      unit={unit ?? unitOf(field.measure, units)}
      value={(step as unknown as Record<string, Expression | null>)[of] ?? null}
      {...(leavable ? { empty: empty ?? "none" } : {})}
      {...(still ? {} : { onPreview: (v) => draft.preview(patch(v)) })}
      onCommit={(v) => draft.commit(`Change ${label.toLowerCase()}`, patch(v))}
    />
  );
}

/** The bound field for a kind of step, which takes the quantities of that kind alone. */
export const fieldFor = <T extends Step>(): ((props: Props<T>) => ReactElement) => StepField<T>;
