// The symbols for stats and resources; general ones come first.

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

/**
 * All symbols to choose from, as (id, name): those of the game's own first, then the built-in ones, then those in use that this
 * version has no name for.
 */
export const symbolsWith = (
  used: (string | null | undefined)[],
  own: { id: string; name: string }[] = [],
): (readonly [string, string])[] => {
  const known = [...own.map(({ id, name }) => [id, name] as const), ...SYMBOLS.map((id) => [id, id] as const)];
  const ids = new Set(known.map(([id]) => id));
  const others = [...new Set(used)].filter((id): id is string => Boolean(id) && !ids.has(id ?? ""));
  return [...known, ...others.map((id) => [id, id] as const)];
};
