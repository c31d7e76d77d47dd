// Shared by the highlighted text of an effect and its editor.

/** A name that needs no quotes. */
export const BARE = /^[\p{L}][\p{L}\p{N}'’-]*$/u;

/** Stands in an empty field: said to be an example, and looking like none of a card's own words. */
export const EXAMPLE = "No effect yet. For example: upon play this: draw 1";
