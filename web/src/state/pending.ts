// What is typed and on its way: shown at once, and never hidden by an answer to something earlier.
import type { Card, Deck, Game } from "./client";
import { placeOf, useGame } from "./store";

const { setState: set, getState: get } = useGame;

/** Values that are typed and on their way: an answer to an earlier edit must not hide them. */
const pending = new Map<string, { value: string; count: number; game: string; seq: number }>();

export function withPending(card: Card): Card {
  const values = { ...card.values };
  for (const [place, { value }] of pending) {
    if (place.startsWith(`${card.id}/`)) values[place.slice(card.id.length + 1)] = value;
  }
  return pending.size ? { ...card, values } : card;
}

/** Counts that are on their way, by deck, section and card: the next step begins from what is shown. */
const counting = new Map<string, { deck: string; section: string; card: string; count: number; sent: number }>();
const counted = (deck: string, section: string, card: string) => `${deck}/${section}/${card}`;

export function withCounts(deck: Deck): Deck {
  const mine = [...counting.values()].filter((each) => each.deck === deck.id);
  if (!mine.length) return deck;
  const cards = { ...deck.cards };
  const sections = { ...deck.sections };
  for (const { section, card, count } of mine) {
    const held = section ? { ...sections[section] } : cards;
    if (section) sections[section] = held;
    if (count) held[card] = count;
    else delete held[card];
  }
  return { ...deck, cards, sections, size: Object.values(cards).reduce((sum, number) => sum + number, 0) };
}

type Unmade = { game: string; seq: number; card: Card; typed: Record<string, string>; refused: boolean };
/** Cards that this page made and the server does not have yet, by id. */
const making = new Map<string, Unmade>();
/** The revision of a card that the server does not have yet. */
export const UNMADE = -1;
export const isUnmade = (card: Card | undefined): boolean => card?.revision === UNMADE;

/** A card of which the page chose the id. `typed` by field id, the code included. */
export type OwnCard = { id: string; type: string; set: string; typed: Record<string, string> };

export function newCardId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(10));
  return `c${[...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("")}`;
}

function unmade(game: Game, { id, type, set: home, typed }: OwnCard): Card {
  const { code = "", ...values } = typed;
  const title = values[game.roles.name ?? "name"] ?? "";
  return { id, code, set: home, type, title, values, revision: UNMADE };
}

/** Shows cards at once; what to call when their answer has come. */
export function showNew(game: Game, fresh: OwnCard[]): () => void {
  const cards = { ...get().cards };
  const order = [...get().order];
  for (const each of fresh) {
    const card = unmade(game, each);
    making.set(each.id, { game: game.id, seq: get().seq, card, typed: each.typed, refused: false });
    if (!cards[each.id]) order.push(each.id);
    cards[each.id] = withPending(card);
  }
  if (fresh.length) set({ cards, order });
  return () => {
    for (const { id } of fresh) making.delete(id);
  };
}

/** Cards that the server refused stay in sight with what was typed into them. */
export function refuseNew(game: Game, fresh: OwnCard[]): void {
  showNew(game, fresh);
  for (const { id } of fresh) {
    const mine = making.get(id);
    if (mine) mine.refused = true;
  }
}

/** What was typed into a card that the server refused; null for any other. */
export function refusedCard(id: string): OwnCard | null {
  const mine = making.get(id);
  return mine?.refused ? { id, type: mine.card.type, set: mine.card.set, typed: mine.typed } : null;
}

/** Removes a card that the server refused. */
export function dropNew(id: string): void {
  making.delete(id);
  const { [id]: _, ...cards } = get().cards;
  const unsaved = Object.fromEntries(Object.entries(get().unsaved).filter(([place]) => !place.startsWith(`${id}/`)));
  set({ cards, order: get().order.filter((each) => each !== id), unsaved });
}

/** The cards of a game as the server has them, and those that are still to be made. */
export function withUnmade(game: string, cards: Record<string, Card>): Record<string, Card> {
  for (const [id, mine] of making) if (mine.game === game && !cards[id]) cards[id] = withPending(mine.card);
  return cards;
}

/** What was typed into one game and is not written yet. `seq`: up to which edit the page had seen the game when the first of it was typed. */
export type OnTheWay = {
  game: string;
  seq: number;
  cells: { card: string; field: string; typed: string }[];
  fresh: OwnCard[];
};

/** Everything that is typed and not written yet, game by game: to be sent again after a reload. */
export function onTheWay(): OnTheWay[] {
  const games = new Map<string, OnTheWay>();
  const of = (game: string, seq: number): OnTheWay => {
    const mine = games.get(game) ?? { game, seq, cells: [], fresh: [] };
    games.set(game, mine);
    mine.seq = Math.min(mine.seq, seq);
    return mine;
  };
  for (const [id, { game, seq, card, typed }] of making)
    of(game, seq).fresh.push({ id, type: card.type, set: card.set, typed });
  for (const [place, { value, game, seq }] of pending) {
    const end = place.lastIndexOf("/");
    of(game, seq).cells.push({ card: place.slice(0, end), field: place.slice(end + 1), typed: value });
  }
  return [...games.values()];
}

/** What a card has besides its fields: shown only once the server has taken it. */
const COLUMNS = new Set(["code", "type", "set"]);

/** Shows values in their cells at once, and until their answers come; gives what to call when one has come. */
export function showAtOnce(cells: { card: string; field: string; typed: string }[]): () => void {
  const cards = { ...get().cards };
  const shown: string[] = [];
  for (const { card, field, typed } of cells) {
    const old = cards[card];
    if (!old || COLUMNS.has(field)) continue;
    cards[card] = { ...old, values: { ...old.values, [field]: typed } };
    const place = placeOf(card, field);
    const held = pending.get(place);
    const { game, seq } = get();
    pending.set(place, {
      value: typed,
      count: (held?.count ?? 0) + 1,
      game: held?.game ?? game?.id ?? "",
      seq: held?.seq ?? seq,
    });
    shown.push(place);
  }
  set({ cards });
  return () => {
    for (const place of shown) {
      const held = pending.get(place);
      if (held && held.count > 1) pending.set(place, { ...held, count: held.count - 1 });
      else pending.delete(place);
    }
  };
}

/** Cells that were shown and not written show again what they held; one that is being written anew stays. */
export function putBack(cells: { card: string; field: string; typed: string }[], before: Record<string, Card>): void {
  const cards = { ...get().cards };
  for (const { card, field, typed } of cells) {
    const now = cards[card];
    if (!now || pending.has(placeOf(card, field)) || now.values[field] !== typed) continue;
    const values = { ...now.values };
    const old = before[card]?.values[field];
    if (old === undefined) delete values[field];
    else values[field] = old;
    cards[card] = { ...now, values };
  }
  set({ cards });
}

/** Whether a newer value of a field is on its way. */
export const isPending = (place: string): boolean => pending.has(place);

/** Shows a count at once, and until its answer comes; gives what to call when it has come: whether it was the last. */
export function countAtOnce(deck: string, card: string, count: number, section: string): () => void {
  const place = counted(deck, section, card);
  counting.set(place, { deck, section, card, count, sent: (counting.get(place)?.sent ?? 0) + 1 });
  set({ decks: get().decks.map((each) => (each.id === deck ? withCounts(each) : each)) });
  return () => {
    const held = counting.get(place);
    if (held && held.sent > 1) counting.set(place, { ...held, sent: held.sent - 1 });
    else counting.delete(place);
  };
}

export const isCounting = (deck: string, card: string, section: string): boolean =>
  counting.has(counted(deck, section, card));
