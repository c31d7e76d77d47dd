// A count with its noun.

/** `1 card`, `3 cards`, `1,200 copies`. `nouns`: where more than one have another ending than s. */
export const counted = (count: number, noun: string, nouns = `${noun}s`): string =>
  `${count.toLocaleString("en")} ${count === 1 ? noun : nouns}`;
