// A text as it is looked for: whatever its case and its accents.

/** "Malmö" and "malmo" are found by each other. */
export const plain = (text: string): string => text.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
