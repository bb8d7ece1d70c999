/** A name while it is typed: kept when the field is left. */
import { TextInput } from "@mantine/core";

interface Props {
  label: string;
  name: string;
  className?: string | undefined;
  /** The name that was typed; none where it is empty or as it was. */
  onDone: (name: string | null) => void;
}

export function NameField({ label, name, className, onDone }: Props) {
  return (
    <TextInput
      className={className}
      defaultValue={name}
      autoFocus
      aria-label={label}
      onBlur={(e) => {
        const typed = e.currentTarget.value.trim();
        onDone(typed !== "" && typed !== name ? typed : null);
      }}
      onKeyDown={(e) => {
        if (e.key === "Enter" || e.key === "Escape") e.currentTarget.blur();
        e.stopPropagation();
      }}
    />
  );
}
