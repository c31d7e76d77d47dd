// Numbers of Balance as text.
export function signed(number: number, places = 1): string {
  const text = Math.abs(number).toFixed(places);
  return Number(text) === 0 ? text : `${number < 0 ? "−" : "+"}${text}`;
}

/** A real minus, no plus. */
export const plain = (number: number, places = 2): string => signed(number, places).replace("+", "");

/** An interval, as it follows a value. */
export const between = (low: number, high: number, places = 1): string =>
  `${signed(low, places)} to ${signed(high, places)}`;

export const percent = (number: number): string => `${number.toFixed(1)} %`;

/** The least share that must come from cards or games; below it, an estimate only repeats the declared number. */
export const INFORMED = 0.3;
