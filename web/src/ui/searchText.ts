// Text normalized for search, ignoring case and accents.

/** "Malmö" and "malmo" are found by each other. */
export const plain = (text: string): string => text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
