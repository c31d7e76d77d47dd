// A number with its unit, typed.
import { Typing } from "../ui/Typing";

type Props = {
  label: string;
  value: number;
  commit: (value: number) => void;
  least: number;
  most: number;
  digits?: number;
};

/** What can't be read, or is out of bounds, becomes the nearest that can be; an empty field leaves the number as it was. */
export function Amount({ label, value, commit, least, most, digits = 0 }: Props) {
  const factor = 10 ** digits;
  const read = (text: string) => {
    const number = Number.parseFloat(text.replace(",", "."));
    if (!Number.isNaN(number)) commit(Math.round(Math.min(most, Math.max(least, number)) * factor) / factor);
  };
  return <Typing label={label} number value={String(Math.round(value * factor) / factor)} commit={read} />;
}
