/** How many starts a helix or a thread has; asked for when there are more than one. */
import { NumberInput } from "@mantine/core";
import fields from "../ui/fields.module.css";
import { More } from "./More";

interface Props {
  value: number;
  most: number;
  onPick: (starts: number) => void;
}

export function StartsField({ value, most, onPick }: Props) {
  return (
    <More label="Several starts" open={value > 1}>
      <NumberInput
        className={fields.expression}
        classNames={{ input: "figures" }}
        label="Starts"
        aria-label="Starts"
        min={1}
        max={most}
        allowDecimal={false}
        value={value}
        onChange={(n) => typeof n === "number" && n >= 1 && n <= most && n !== value && onPick(n)}
      />
    </More>
  );
}
