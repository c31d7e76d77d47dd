// The symbols that stats and resources choose from; those of no game in particular come first.

export const SYMBOLS = [
  "coin",
  "supply",
  "effort",
  "strength",
  "guard",
  "score",
  "drop",
  "ribbon",
  "merit",
  "compost",
  "cutting",
  "vigour",
  "spread",
  "root",
  "height",
];

/** All of them, after those that are in use and of which this version has no other name. */
export const symbolsWith = (used: (string | null | undefined)[]): string[] => [
  ...new Set([...used.filter((each): each is string => Boolean(each)), ...SYMBOLS]),
];
