// Numbers of balance in words.
export const signed = (number: number, places = 1): string =>
  `${number < 0 ? "−" : number > 0 ? "+" : ""}${Math.abs(number).toFixed(places)}`;

/** An interval, as it follows a value. */
export const between = (low: number, high: number, places = 1): string =>
  `${signed(low, places)} to ${signed(high, places)}`;

export const percent = (number: number): string => `${number.toFixed(1)} %`;

/** So much of what is known must come from cards or games: below, the number is the declared one said again. */
export const INFORMED = 0.3;
