// Examples for what is to be typed, in the game's own words.
import type { Game } from "./client";
import { useGame } from "./store";

/** Questions that this game's cards answer: a number of at least so much, a choice that is so. */
export function queriesOf(game: Game | null): string[] {
  const number = game?.fields.find((field) => field.id === (game.roles.cost ?? game.roles.stats?.[0]));
  const choice = game?.fields.find((field) => field.kind === "choice");
  const value = choice && game?.lists.find((list) => "list" in choice && list.id === choice.list)?.values?.[0];
  const said = [
    number ? `${number.name.toLowerCase()} >= 3` : "",
    choice && value ? `${choice.name.toLowerCase()} is ${value.name}` : "",
  ];
  return said.filter(Boolean);
}

/** A question for a field that takes one; what every game can answer where nothing else can be asked. */
export const useExampleQuery = (): string => useGame((state) => queriesOf(state.game).at(-1) ?? "unfinished");

/** A code as this game's cards have it. */
export const useExampleCode = (): string =>
  useGame((state) => state.cards[state.order[19] ?? state.order.at(-1) ?? ""]?.code ?? "A-020");
