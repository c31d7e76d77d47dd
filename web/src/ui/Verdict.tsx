type Props = { judgement: string; difference: number; long?: boolean };

/** Points with their sign; a real minus, so that columns line up. */
export function points(number: number, signed = true): string {
  const text = Math.abs(number)
    .toFixed(3)
    .replace(/\.?0+$/, "");
  return number < 0 ? `−${text}` : signed && number > 0 ? `+${text}` : text;
}

/** A verdict in brief: over, fair, under or undecided, with the points behind it. */
export function Verdict({ judgement, difference, long }: Props) {
  const said =
    judgement === "open"
      ? "undecided"
      : judgement === "fair" && !long
        ? points(difference)
        : `${points(difference)} ${judgement}`;
  return <span className={`verdict verdict-${judgement}`}>{said}</span>;
}
