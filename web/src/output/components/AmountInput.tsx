// A number input with a unit.
import { Typing } from "../../ui/Typing";

type Props = {
  label: string;
  value: number;
  commit: (value: number) => void;
  least: number;
  most: number;
  digits?: number;
};

/** What is out of bounds becomes the nearest that is within; what is no number leaves it as it was, and shows it. */
export function AmountInput({ label, value, commit, least, most, digits = 0 }: Props) {
  const factor = 10 ** digits;
  const read = (text: string) => {
    const number = Number.parseFloat(text.replace(",", "."));
    const next = Math.round(Math.min(most, Math.max(least, number)) * factor) / factor;
    if (Number.isNaN(number) || next === value) return false;
    return commit(next);
  };
  return <Typing label={label} number value={String(Math.round(value * factor) / factor)} commit={read} />;
}
