// Edits of decks.
import { api, ask, type Edit, newKey, type Schemas } from "./client";
import { countAtOnce, isCounting } from "./pending";
import { useGame } from "./store";
import { change, send, signed } from "./writing";

const { setState: set, getState: get } = useGame;
export type Fix = Schemas["FixOut"];

/** Sets how many of a card a section of a deck holds, the main one being the empty one; shown at once. */
export async function setCount(
  deck: string,
  card: string,
  count: number,
  section = "",
  base = get().seq,
): Promise<Edit | null> {
  const game = get().game;
  const old = get().decks.find((each) => each.id === deck);
  if (!game || !old || count < 0) return null;
  const arrived = countAtOnce(deck, card, count, section);
  const key = newKey();
  /** What the page has seen by the time it is sent first: sent again it must be the same. */
  let seen: number | null = null;
  const write = () => {
    seen ??= Math.max(base, get().seq);
    return ask(
      api.PUT("/api/games/{game_id}/decks/{deck_id}/cards/{card_id}", {
        params: { path: { game_id: game.id, deck_id: deck, card_id: card }, header: { "idempotency-key": key } },
        body: { count, section, base: seen },
      }),
    );
  };
  const edit = await send(write, { again: (seq) => void setCount(deck, card, count, section, seq), arrived });
  if (!edit && !isCounting(deck, card, section))
    set({ decks: get().decks.map((each) => (each.id === deck ? old : each)) });
  return edit;
}

/** So many more, or fewer, of a card than are shown. */
export function countBy(deck: string, card: string, by: number, section = ""): Promise<Edit | null> {
  const held = get().decks.find((each) => each.id === deck);
  const now = (section ? held?.sections[section]?.[card] : held?.cards[card]) ?? 0;
  const next = Math.max(0, now + by);
  return next === now ? Promise.resolve(null) : setCount(deck, card, next, section);
}

/** Several counts as one step, such as those that mend a deck. */
export const setCounts = (deck: string, counts: Fix[], label: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.POST("/api/games/{game_id}/decks/{deck_id}/counts", {
        params: at(game, deck, key),
        body: { counts, label },
      }),
    ),
  );

/** A deck, empty, or filled at random by a seed. */
export const addDeck = (name: string, format = "", seed: number | null = null): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.POST("/api/games/{game_id}/decks", { params: signed(game, key), body: { name, format, seed } })),
  );

export const renameDeck = (deck: string, name: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.PUT("/api/games/{game_id}/decks/{deck_id}/name", { params: at(game, deck, key), body: { name } })),
  );

export const chooseRules = (deck: string, format: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.PUT("/api/games/{game_id}/decks/{deck_id}/format", { params: at(game, deck, key), body: { format } })),
  );

export const noteDeck = (deck: string, text: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.PUT("/api/games/{game_id}/decks/{deck_id}/note", { params: at(game, deck, key), body: { text } })),
  );

export const doubleDeck = (deck: string): Promise<Edit | null> =>
  change((game, key) => ask(api.POST("/api/games/{game_id}/decks/{deck_id}/double", { params: at(game, deck, key) })));

export const fillDeck = (deck: string, seed: number): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.POST("/api/games/{game_id}/decks/{deck_id}/fill", { params: at(game, deck, key), body: { seed } })),
  );

export const putDeckBack = (deck: string, seq: number): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.POST("/api/games/{game_id}/decks/{deck_id}/back", { params: at(game, deck, key), body: { seq } })),
  );

export const takeDeckOut = (deck: string): Promise<Edit | null> =>
  change((game, key) => ask(api.DELETE("/api/games/{game_id}/decks/{deck_id}", { params: at(game, deck, key) })));

export const takeList = (body: Schemas["DeckListIn"]): Promise<Edit | null> =>
  change((game, key) => ask(api.POST("/api/games/{game_id}/decks/lists", { params: signed(game, key), body })));

const at = (game: string, deck: string, key: string) => ({
  path: { game_id: game, deck_id: deck },
  header: { "idempotency-key": key },
});
