// The choice list of a field.
import type { Game } from "./client";

/** The list that a field chooses from. */
export function choicesOf(game: Game, id: string | null | undefined) {
  const field = game.fields.find((each) => each.id === id);
  return field?.kind === "choice" ? game.lists.find((each) => each.id === field.list) : undefined;
}
