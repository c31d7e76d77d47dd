/** The rooms, by their path segment. */
export const ROOMS = [
  ["cards", "Cards"],
  ["faces", "Faces"],
  ["rules", "Rules"],
  ["decks", "Decks"],
  ["playtest", "Playtest"],
  ["balance", "Balance"],
  ["output", "Output"],
  ["history", "History"],
  ["files", "Files"],
] as const;
