// The game that is open: its cards and decks as the server last said, and the edits on their way to it.
import { create } from "zustand";
import {
  ApiError,
  api,
  ask,
  type Card,
  type Deck,
  type Edit,
  type Game,
  type Note,
  newKey,
  PAGE,
  type Problem,
  type Ripple,
  type Standing,
} from "./client";
import { forgetFace } from "./faces";
import { goodText } from "./sheet";

/** A way to go on, by the words on its button. */
export type Way = [string, () => void];
/** `retry` sends it again; `drop` gives up what was typed; `ways` are other ways to go on. */
export type Notice = { id: number; problem: Problem; retry?: () => void; drop?: () => void; ways?: Way[] };
/** What was typed and could not be written: it stays where it was typed until it is mended or given up. */
export type Unsaved = Record<string, { text: string; why: string }>;

type State = {
  game: Game | null;
  cards: Record<string, Card>;
  order: string[];
  decks: Deck[];
  standings: Record<string, Standing>;
  seq: number;
  ripples: Ripple[];
  undo: string | null;
  redo: string | null;
  notice: Notice | null;
  unsaved: Unsaved;
  connected: boolean;
  saving: number;
  /** Notes by the card they are on, the oldest first. */
  notes: Record<string, Note[]>;
  /** How often things of a kind (mark, note, source, layout, picture, run) changed since the game was opened. */
  touched: Record<string, number>;
};

export const useGame = create<State>(() => ({
  game: null,
  cards: {},
  order: [],
  decks: [],
  standings: {},
  seq: 0,
  ripples: [],
  undo: null,
  redo: null,
  notice: null,
  unsaved: {},
  connected: true,
  saving: 0,
  notes: {},
  touched: {},
}));

const { setState: set, getState: get } = useGame;
const MOST_RIPPLES = 30;
let notices = 0;

/** Work whose failing is said elsewhere: a lost connection shows in the strip, and the next news tries again. */
const later = (work: Promise<unknown>): void => {
  work.catch(() => undefined);
};

const inGame = (id: string) => ({ params: { path: { game_id: id } } });

/** Opens a game and follows its news. Gives back how to stop following. */
export async function openGame(id: string): Promise<() => void> {
  await reload(id);
  return follow(id);
}

async function reload(id: string): Promise<void> {
  const [game, cards, decks] = await Promise.all([
    ask(api.GET("/api/games/{game_id}", inGame(id))),
    ask(api.GET("/api/games/{game_id}/cards", inGame(id))),
    ask(api.GET("/api/games/{game_id}/decks", inGame(id))),
  ]);
  // An edit was answered while this was on its way: it would be lost from sight.
  if (get().game?.id === id && cards.seq < get().seq) return reload(id);
  const byId = Object.fromEntries(cards.cards.map((card) => [card.id, withPending(card)]));
  for (const [ident, card] of Object.entries(get().cards))
    if (byId[ident]?.revision !== card.revision) forgetFace(ident);
  if (rulesDiffer(get().game, game)) for (const ident of Object.keys(byId)) forgetFace(ident);
  set({ game, cards: byId, order: cards.cards.map((card) => card.id), decks: decks.map(withCounts), seq: cards.seq });
  later(refreshStandings());
  later(refreshHistory());
  later(refreshNotes());
}

async function refreshGame(): Promise<void> {
  const game = get().game;
  if (!game) return;
  const found = await ask(api.GET("/api/games/{game_id}", inGame(game.id)));
  if (get().game?.id === game.id) set({ game: found });
}

async function refreshNotes(): Promise<void> {
  const game = get().game;
  if (!game) return;
  const notes: Record<string, Note[]> = {};
  for (const note of await ask(api.GET("/api/games/{game_id}/notes", inGame(game.id)))) {
    notes[note.card] = [...(notes[note.card] ?? []), note];
  }
  set({ notes });
}

/** What every face may follow from, though no card changed. */
const OF_FACES = new Set(["plan", "game", "set"]);

/** Things of these kinds are not as they were: whoever shows them asks anew. */
function touch(kinds: string[]): void {
  const touched = { ...get().touched };
  for (const kind of kinds) touched[kind] = (touched[kind] ?? 0) + 1;
  set({ touched });
  if (kinds.some((kind) => OF_FACES.has(kind))) {
    for (const card of Object.keys(get().cards)) forgetFace(card);
    later(refreshStandings());
  }
  // What was printed is not known card by card: how each is on paper is asked anew.
  if (kinds.includes("run")) {
    later(refreshGame());
    later(refreshStandings());
  }
  if (kinds.includes("note")) later(refreshNotes());
}

/** Whether faces may look otherwise now, though no card changed. */
function rulesDiffer(before: Game | null, after: Game): boolean {
  const said = (game: Game | null) =>
    JSON.stringify([game?.fields, game?.types, game?.lists, game?.sets, game?.resources]);
  return before !== null && said(before) !== said(after);
}

const PIECE = 800;
let rounds = 0;

/** Verdicts and flags of a few cards, or of every card: heavy at first, so it comes after the cards and piece by piece. */
async function refreshStandings(ids?: string[]): Promise<void> {
  const game = get().game;
  if (!game) return;
  if (!ids) rounds += 1;
  const mine = rounds;
  const pieces = ids ? 1 : Math.ceil(get().order.length / PIECE);
  for (let piece = 0; piece < pieces; piece++) {
    const query = ids ? { ids: ids.join(",") } : { start: piece * PIECE, count: PIECE };
    const found = await ask(
      api.GET("/api/games/{game_id}/standings", { params: { path: { game_id: game.id }, query } }),
    );
    if (!ids && mine !== rounds) return;
    set({ standings: { ...get().standings, ...Object.fromEntries(found.map((each) => [each.card, each])) } });
  }
}

async function refreshHistory(): Promise<void> {
  const game = get().game;
  if (!game) return;
  const found = await ask(api.GET("/api/games/{game_id}/history", inGame(game.id)));
  set({ undo: found.undo, redo: found.redo });
}

type News = {
  seq: number;
  refetch: boolean;
  pages: string[];
  /** The number of each op, and the page that made it. */
  ops: [number, string][];
  label?: string;
  things?: [string, string][];
};

/** Ops of this page whose answers came: news of them is no news. One whose answer was lost is news like any other. */
const answered = new Set<number>();

function follow(id: string): () => void {
  const source = new EventSource(`/api/games/${id}/events?page=${encodeURIComponent(PAGE)}`);
  source.onopen = () => set({ connected: true });
  source.onerror = () => set({ connected: false });
  source.onmessage = (message) => {
    const news = JSON.parse(message.data) as News;
    const mine = news.ops.some(([, page]) => page === PAGE);
    // Answers that are still on their way come first: after them it is known which were lost.
    if (mine) void queue.then(() => take(news));
    else take(news);
  };
  const take = (news: News) => {
    const known = ([seq, page]: [number, string]) => (page === PAGE ? answered.has(seq) : seq <= get().seq);
    if (!news.refetch && news.ops.every(known)) {
      set({ seq: Math.max(get().seq, news.seq) });
      return;
    }
    touch([...new Set((news.things ?? []).map(([kind]) => kind))]);
    const all = news.refetch || news.things?.some(([kind]) => kind === "set" || kind === "game" || kind === "view");
    if (news.refetch) touch(["mark", "source", "layout", "picture", "plan", "run", "game"]);
    later(all ? reload(id) : refetch(id, news));
  };
  return () => source.close();
}

async function refetch(id: string, news: News): Promise<void> {
  const ids = (news.things ?? []).filter(([kind]) => kind === "card").map(([, ident]) => ident);
  const decks = await ask(api.GET("/api/games/{game_id}/decks", inGame(id)));
  const found = ids.length
    ? await ask(
        api.GET("/api/games/{game_id}/cards", { params: { path: { game_id: id }, query: { ids: ids.join(",") } } }),
      )
    : { cards: [], seq: news.seq };
  const there = new Set(found.cards.map((card) => card.id));
  merge(
    found.cards,
    ids.filter((ident) => !there.has(ident)),
  );
  set({ decks: decks.map(withCounts), seq: Math.max(get().seq, news.seq) });
  if (ids.length) later(refreshStandings(ids));
  later(refreshHistory());
}

/** Values that are typed and on their way: an answer to an earlier edit must not hide them. */
const pending = new Map<string, { value: string; count: number }>();

function withPending(card: Card): Card {
  const values = { ...card.values };
  for (const [place, { value }] of pending) {
    if (place.startsWith(`${card.id}/`)) values[place.slice(card.id.length + 1)] = value;
  }
  return pending.size ? { ...card, values } : card;
}

/** Counts that are on their way, by deck and card: the next step begins from what is shown. */
const counting = new Map<string, { count: number; sent: number }>();

function withCounts(deck: Deck): Deck {
  const mine = [...counting].filter(([place]) => place.startsWith(`${deck.id}/`));
  if (!mine.length) return deck;
  const cards = { ...deck.cards };
  for (const [place, { count }] of mine) {
    const card = place.slice(deck.id.length + 1);
    if (count) cards[card] = count;
    else delete cards[card];
  }
  return { ...deck, cards, size: Object.values(cards).reduce((sum, number) => sum + number, 0) };
}

function inOrder(cards: Record<string, Card>): string[] {
  return Object.values(cards)
    .sort((one, other) => (one.code < other.code ? -1 : one.code > other.code ? 1 : one.id < other.id ? -1 : 1))
    .map((card) => card.id);
}

function merge(changed: Card[], gone: string[]): void {
  const cards = { ...get().cards };
  for (const ident of gone) delete cards[ident];
  for (const card of changed) cards[card.id] = withPending(card);
  for (const ident of [...gone, ...changed.map((card) => card.id)]) forgetFace(ident);
  const before = get().cards;
  const moved = gone.length > 0 || changed.some((card) => before[card.id]?.code !== card.code);
  set(moved ? { cards, order: inOrder(cards) } : { cards });
}

/** Takes an edit's answer in: the cards and decks as they are now, and what it did elsewhere. */
export function applyEdit(edit: Edit): void {
  answered.add(edit.seq);
  // Notes of a card that was gone are not here: they come back with it.
  const back = edit.cards.some((card) => !(card.id in get().cards));
  merge(edit.cards, edit.gone);
  const game = get().game;
  const decks = new Map(get().decks.map((deck) => [deck.id, deck]));
  for (const deck of edit.decks) decks.set(deck.id, withCounts(deck));
  for (const deck of edit.decks_gone ?? []) decks.delete(deck);
  const standings = { ...get().standings };
  for (const card of edit.ripple.cards) {
    if (card.after && card.fits !== null && card.fits !== undefined) {
      standings[card.card] = { card: card.card, ...card.after, fits: card.fits };
    }
  }
  set({
    decks: [...decks.values()],
    standings,
    game: game ? { ...game, sets: edit.sets, views: edit.views } : game,
    seq: Math.max(get().seq, edit.seq),
    ripples: [edit.ripple, ...get().ripples].slice(0, MOST_RIPPLES),
    notice: null,
  });
  const unjudged = edit.cards
    .map((card) => card.id)
    .filter((id) => !edit.ripple.cards.some((each) => each.card === id));
  for (let at = 0; at < unjudged.length; at += PIECE) later(refreshStandings(unjudged.slice(at, at + PIECE)));
  touch(edit.touched);
  if (back) later(refreshNotes());
  if (edit.rules && game) later(reload(game.id));
  else later(refreshHistory());
}

let queue: Promise<unknown> = Promise.resolve();

/** Edits go one after another; each carries a key, so that a repeat is harmless. */
export function inLine<T>(write: () => Promise<T>): Promise<T> {
  set({ saving: get().saving + 1 });
  const done = queue.then(write, write).finally(() => set({ saving: get().saving - 1 }));
  queue = done.catch(() => undefined);
  return done;
}

/** Sends an edit and takes its answer in; a refusal becomes a notice. Null when it was refused. */
export async function send(
  write: () => Promise<Edit>,
  again?: (base: number) => void,
  refused?: (problem: Problem) => (() => void) | undefined,
): Promise<Edit | null> {
  try {
    const edit = await inLine(write);
    applyEdit(edit);
    return edit;
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    const problem = error.problem;
    const base = problem.status === 409 ? problem.seq : problem.status === 0 ? get().seq : null;
    say(problem, again && base != null ? () => again(base) : undefined, refused?.(problem));
    const game = get().game;
    if (problem.status === 409 && game) void reload(game.id).catch(() => undefined);
    return null;
  }
}

export function say(problem: Problem, retry?: () => void, drop?: () => void): void {
  notices += 1;
  set({ notice: { id: notices, problem, retry, drop } });
}

/** What a card has beside its fields: shown only once the server has taken it. */
const COLUMNS = new Set(["code", "type", "set"]);

/** Keeps what was typed into a cell and could not be written, with the reason. */
export function keepUnsaved(kept: { card: string; field: string; text: string; why: string }[]): void {
  const unsaved = { ...get().unsaved };
  for (const each of kept) unsaved[placeOf(each.card, each.field)] = { text: each.text, why: each.why };
  set({ unsaved });
}

export const placeOf = (card: string, field: string): string => `${card}/${field}`;

/** Gives up what was typed into a field and could not be written. */
export function dropUnsaved(card: string, field: string): void {
  const unsaved = { ...get().unsaved };
  delete unsaved[placeOf(card, field)];
  set({ unsaved, notice: null });
}

export const hush = (): void => set({ notice: null });

/** Shows values in their cells at once, and until their answers come; gives what to call when one has come. */
export function showAtOnce(cells: { card: string; field: string; typed: string }[]): () => void {
  const cards = { ...get().cards };
  const shown: string[] = [];
  for (const { card, field, typed } of cells) {
    const old = cards[card];
    if (!old || COLUMNS.has(field)) continue;
    cards[card] = { ...old, values: { ...old.values, [field]: typed } };
    const place = placeOf(card, field);
    pending.set(place, { value: typed, count: (pending.get(place)?.count ?? 0) + 1 });
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

/** Writes one field as typed; shows it at once. */
export function editField(card: string, field: string, value: string, base = get().seq): Promise<Edit | null> {
  const game = get().game;
  const old = get().cards[card];
  if (!game || !old) return Promise.resolve(null);
  const key = newKey();
  const good = goodText(card, field);
  const write = () =>
    ask(
      api.PUT("/api/games/{game_id}/cards/{card_id}/fields/{field_id}", {
        params: { path: { game_id: game.id, card_id: card, field_id: field }, header: { "idempotency-key": key } },
        body: { value, base, good },
      }),
    );
  const place = placeOf(card, field);
  const arrived = showAtOnce([{ card, field, typed: value }]);
  const sent = () => write().finally(arrived);
  const keep = (problem: Problem) => {
    set({ unsaved: { ...get().unsaved, [place]: { text: value, why: `${problem.detail}: ${problem.mend}` } } });
    return () => dropUnsaved(card, field);
  };
  return send(sent, (seq) => void editField(card, field, value, seq), keep).then((edit) => {
    const newer = pending.has(place);
    if (edit && get().unsaved[place] && !newer) dropUnsaved(card, field);
    const now = get().cards[card];
    if (!edit && now && !newer && now.values[field] === value) {
      set({
        cards: { ...get().cards, [card]: { ...now, values: { ...now.values, [field]: old.values[field] ?? "" } } },
      });
    }
    return edit;
  });
}

export const undoLast = (): Promise<Edit | null> => step("undo");
export const redoLast = (): Promise<Edit | null> => step("redo");

/** How to go on where an edit cannot be undone as a whole: only the rest of it, over what is there now, or not at all. */
export type GoOn = "rest" | "over" | "pass";

async function step(word: "undo" | "redo", how?: GoOn, op?: number): Promise<Edit | null> {
  const game = get().game;
  if (!game) return null;
  const params = { path: { game_id: game.id }, header: { "idempotency-key": newKey() } };
  const body = { how: how ?? ("whole" as const), op: op ?? null };
  try {
    const edit = await inLine(() =>
      ask(
        word === "undo"
          ? api.POST("/api/games/{game_id}/undo", { params, body })
          : api.POST("/api/games/{game_id}/redo", { params, body }),
      ),
    );
    applyEdit(edit);
    return edit;
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    const { problem } = error;
    say(problem);
    // A conflict is no wall: what can be done with it stands beside it.
    if (problem.status === 409 && problem.op != null) {
      const at = problem.op;
      const on = (next: GoOn) => () => void step(word, next, at);
      const ways: Way[] = [];
      if (problem.rest) ways.push([`${word === "undo" ? "Undo" : "Redo"} the rest`, on("rest")]);
      if (how !== "over") ways.push([`${word === "undo" ? "Undo" : "Redo"} over it`, on("over")]);
      ways.push(["Leave it, go on", on("pass")]);
      const notice = get().notice;
      if (notice) set({ notice: { ...notice, ways } });
      later(reload(game.id));
    } else later(refreshHistory());
    return null;
  }
}

export function addCard(type: string, setId: string, typed: Record<string, string> = {}): Promise<Edit | null> {
  const game = get().game;
  if (!game) return Promise.resolve(null);
  return send(() =>
    ask(api.POST("/api/games/{game_id}/cards", { ...inGame(game.id), body: { type, set: setId, typed } })),
  );
}

export function takeCardOut(card: string): Promise<Edit | null> {
  const game = get().game;
  if (!game) return Promise.resolve(null);
  return send(() =>
    ask(api.DELETE("/api/games/{game_id}/cards/{card_id}", { params: { path: { game_id: game.id, card_id: card } } })),
  );
}

export async function setCount(deck: string, card: string, count: number, base = get().seq): Promise<Edit | null> {
  const game = get().game;
  const old = get().decks.find((each) => each.id === deck);
  if (!game || !old || count < 0) return null;
  const place = `${deck}/${card}`;
  counting.set(place, { count, sent: (counting.get(place)?.sent ?? 0) + 1 });
  set({ decks: get().decks.map((each) => (each.id === deck ? withCounts(each) : each)) });
  const arrived = () => {
    const held = counting.get(place);
    if (held && held.sent > 1) counting.set(place, { ...held, sent: held.sent - 1 });
    else counting.delete(place);
  };
  const edit = await send(
    () =>
      ask(
        api.PUT("/api/games/{game_id}/decks/{deck_id}/cards/{card_id}", {
          params: { path: { game_id: game.id, deck_id: deck, card_id: card } },
          body: { count, base: Math.max(base, get().seq) },
        }),
      ).finally(arrived),
    (seq) => void setCount(deck, card, count, seq),
  );
  if (!edit && !counting.has(place)) set({ decks: get().decks.map((each) => (each.id === deck ? old : each)) });
  return edit;
}

export function addDeck(name: string): Promise<Edit | null> {
  const game = get().game;
  if (!game) return Promise.resolve(null);
  return send(() => ask(api.POST("/api/games/{game_id}/decks", { ...inGame(game.id), body: { name } })));
}

export function renameDeck(deck: string, name: string): Promise<Edit | null> {
  const game = get().game;
  if (!game) return Promise.resolve(null);
  return send(() =>
    ask(
      api.PUT("/api/games/{game_id}/decks/{deck_id}/name", {
        params: { path: { game_id: game.id, deck_id: deck } },
        body: { name },
      }),
    ),
  );
}

export async function takeDeckOut(deck: string): Promise<void> {
  const game = get().game;
  if (!game) return;
  await send(() =>
    ask(api.DELETE("/api/games/{game_id}/decks/{deck_id}", { params: { path: { game_id: game.id, deck_id: deck } } })),
  );
}

export const fieldOf = (id: string) => get().game?.fields.find((field) => field.id === id);
export const typeOf = (card: Card | undefined) => get().game?.types.find((type) => type.id === card?.type);
