// Opens a game, follows its events, and applies the answers of edits.
import { ApiError, api, ask, type Card, type Edit, type Game, type Note, PAGE } from "./client";
import { fetchMissingFaces, forgetFace } from "./faces";
import { UNMADE, withCounts, withPending, withUnmade } from "./pending";
import { answersCome } from "./queue";
import { bringSheet, forgetSheets } from "./sheet";
import { useGame } from "./store";

const { setState: set, getState: get } = useGame;
const MOST_RIPPLES = 30;

/** Work whose failing is said elsewhere: a lost connection shows in the strip, and the next news tries again. */
export const later = (work: Promise<unknown>): void => {
  work.catch(() => undefined);
};

export const inGame = (id: string) => ({ params: { path: { game_id: id } } });

const asked: Record<string, number> = {};
const come: Record<string, number> = {};

/** Of answers of one kind one that comes late is not taken in: what was asked for since has come, and is newer. */
function inTurn(kind: string): () => boolean {
  asked[kind] = (asked[kind] ?? 0) + 1;
  const mine = asked[kind];
  return () => {
    if (mine < (come[kind] ?? 0)) return false;
    come[kind] = mine;
    return true;
  };
}

/** The game that a person opened last: what comes of another one later is not taken in. */
let opened = "";

/** Opens a game and follows its news. Gives back how to stop following. */
export async function openGame(id: string): Promise<() => void> {
  // What was said of another game stays with that one.
  set({ gone: null, ...(id !== opened && { notice: null, ripples: [] }) });
  opened = id;
  await reload(id);
  return follow(id);
}

export async function reload(id: string): Promise<void> {
  const newest = inTurn("game");
  const [game, cards, decks] = await Promise.all([
    ask(api.GET("/api/games/{game_id}", inGame(id))),
    ask(api.GET("/api/games/{game_id}/cards", inGame(id))),
    ask(api.GET("/api/games/{game_id}/decks", inGame(id))),
  ]);
  // An edit was answered while this was on its way: it would be lost from sight.
  if (get().game?.id === id && cards.seq < get().seq) return reload(id);
  if (id !== opened || !newest()) return;
  const byId = withUnmade(id, Object.fromEntries(cards.cards.map((card) => [card.id, withPending(card)])));
  const before = get().game?.id === id ? get().cards : {};
  const renamed = Object.values(before).some((card) => byId[card.id]?.title !== card.title);
  for (const [ident, card] of Object.entries(before)) if (byId[ident]?.revision !== card.revision) forgetFace(ident);
  if (renamed || rulesDiffer(get().game, game)) for (const ident of Object.keys(byId)) forgetFace(ident);
  set({ game, cards: byId, order: Object.keys(byId), decks: decks.map(withCounts), seq: cards.seq });
  if (renamed) touch(["name"]);
  later(refreshStandings());
  later(refreshHistory());
  later(refreshNotes());
}

async function refreshGame(): Promise<void> {
  const game = get().game;
  if (!game) return;
  const newest = inTurn("game");
  const found = await ask(api.GET("/api/games/{game_id}", inGame(game.id)));
  if (game.id === opened && newest()) set({ game: found });
}

async function refreshNotes(): Promise<void> {
  const game = get().game;
  if (!game) return;
  const newest = inTurn("notes");
  const notes: Record<string, Note[]> = {};
  for (const note of await ask(api.GET("/api/games/{game_id}/notes", inGame(game.id)))) {
    notes[note.card] = [...(notes[note.card] ?? []), note];
  }
  if (game.id === opened && newest()) set({ notes });
}

/** What every face may follow from, though no card changed. */
const OF_FACES = new Set(["plan", "game", "set"]);

/** Things of these kinds are not as they were: whoever shows them asks anew. */
export function touch(kinds: string[]): void {
  const touched = { ...get().touched };
  for (const kind of kinds) touched[kind] = (touched[kind] ?? 0) + 1;
  set({ touched });
  if (kinds.some((kind) => OF_FACES.has(kind))) {
    for (const card of Object.keys(get().cards)) forgetFace(card);
    forgetSheets();
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
    if (game.id !== opened || (!ids && mine !== rounds)) return;
    set({ standings: { ...get().standings, ...Object.fromEntries(found.map((each) => [each.card, each])) } });
  }
}

export async function refreshHistory(): Promise<void> {
  const game = get().game;
  if (!game) return;
  const newest = inTurn("history");
  const found = await ask(api.GET("/api/games/{game_id}/history", inGame(game.id)));
  if (game.id === opened && newest()) set({ undo: found.undo, redo: found.redo });
}

type News = {
  seq: number;
  refetch: boolean;
  /** The server has another file than before: what stands on this page is not of it. */
  other?: boolean;
  pages: string[];
  /** The number of each op, and the page that made it. */
  ops: [number, string][];
  label?: string;
  things?: [string, string][];
};

/** Ops of this page whose answers came: news of them is no news. One whose answer was lost is news like any other. */
const answered = new Set<number>();

/** Rather than mended: nothing here can be told apart from what is there. What could not be written is kept. */
const beginAnew = () => window.location.reload();

/** A server whose latest op is one that this page is beyond has another file, unless it got there while it said so. */
async function lookForOther(id: string, latest: number): Promise<void> {
  const beyond = get().seq;
  if (latest >= beyond) return;
  const now = await ask(
    api.GET("/api/games/{game_id}/cards", { params: { path: { game_id: id }, query: { limit: 1 } } }),
  );
  if (now.seq < beyond) beginAnew();
}

/** A server that no longer has the game, removed for good or of a file that is no longer open, says nothing of it ever again. */
async function lookWhetherGone(id: string): Promise<void> {
  try {
    await ask(api.GET("/api/games/{game_id}", inGame(id)));
  } catch (error) {
    if (!(error instanceof ApiError && error.problem.status === 404)) throw error;
    set({ gone: id });
  }
}

function follow(id: string): () => void {
  const source = new EventSource(`/api/games/${id}/events?page=${encodeURIComponent(PAGE)}`);
  let lost = false;
  source.onopen = () => {
    set({ connected: true });
    if (!lost || id !== opened) return;
    lost = false;
    // What was asked for meanwhile failed: no news will bring it.
    set({ reconnected: get().reconnected + 1 });
    fetchMissingFaces();
    later(reload(id));
  };
  source.onerror = () => {
    lost = true;
    set({ connected: false });
    // Closed for good: the answer was no stream. A server that does not answer is asked again by itself.
    if (source.readyState === EventSource.CLOSED) later(lookWhetherGone(id));
  };
  source.onmessage = (message) => {
    const news = JSON.parse(message.data) as News;
    const mine = news.ops.some(([, page]) => page === PAGE);
    // Answers that are still on their way come first: after them it is known which were lost.
    if (mine) void answersCome().then(() => take(news));
    else take(news);
  };
  source.addEventListener("here", (message) => later(lookForOther(id, Number(message.data))));
  const take = (news: News) => {
    if (id !== opened) return;
    if (news.other) {
      beginAnew();
      return;
    }
    const known = ([seq, page]: [number, string]) => (page === PAGE ? answered.has(seq) : seq <= get().seq);
    if (!news.refetch && news.ops.every(known)) {
      set({ seq: Math.max(get().seq, news.seq) });
      return;
    }
    touch([...new Set((news.things ?? []).map(([kind]) => kind))]);
    const all = news.refetch || news.things?.some(([kind]) => kind === "set" || kind === "game" || kind === "view");
    if (news.refetch) touch(["mark", "source", "layout", "picture", "plan", "run", "game"]);
    later(
      (all ? reload(id) : refetch(id, news)).catch((error: unknown) => {
        if (error instanceof ApiError && error.problem.status === 404) set({ gone: id });
        throw error;
      }),
    );
  };
  return () => {
    source.close();
    // Nobody listens any more: whether the server is there is known to whoever asks.
    set({ connected: true });
  };
}

async function refetch(id: string, news: News): Promise<void> {
  const ids = (news.things ?? []).filter(([kind]) => kind === "card").map(([, ident]) => ident);
  const began = get().seq;
  const decks = await ask(api.GET("/api/games/{game_id}/decks", inGame(id)));
  const found = ids.length
    ? await ask(
        api.GET("/api/games/{game_id}/cards", { params: { path: { game_id: id }, query: { ids: ids.join(",") } } }),
      )
    : { cards: [], seq: news.seq };
  if (id !== opened) return;
  // An edit was answered while this was on its way: it would be lost from sight.
  if (get().seq > Math.max(began, news.seq)) return refetch(id, { ...news, seq: get().seq });
  const there = new Set(found.cards.map((card) => card.id));
  merge(
    found.cards,
    ids.filter((ident) => !there.has(ident)),
  );
  set({ decks: decks.map(withCounts), seq: Math.max(get().seq, news.seq) });
  if (ids.length) later(refreshStandings(ids));
  later(refreshHistory());
}

function inOrder(cards: Record<string, Card>): string[] {
  return Object.values(cards)
    .sort((one, other) => {
      // Cards without a code yet are the last.
      const last = Number(one.revision === UNMADE) - Number(other.revision === UNMADE);
      return last || (one.code < other.code ? -1 : one.code > other.code ? 1 : one.id < other.id ? -1 : 1);
    })
    .map((card) => card.id);
}

/** So many are asked for at once. */
const MOST_NAMING = 300;
const FEW = 50;

/** What cards were called that are called otherwise now, or are gone; of those that came back their id, by which they were called meanwhile. */
function calledOtherwise(before: Record<string, Card>, changed: Card[], gone: string[]): string[] {
  const renamed = changed.filter((card) => before[card.id]?.title !== card.title);
  return [...gone, ...renamed.map((card) => card.id)].map((ident) => before[ident]?.title || ident);
}

/** Cards whose effects create others that were called so: they say what those are called now. */
async function refetchNaming(called: string[]): Promise<void> {
  const { game, cards } = get();
  const effects = game?.fields.filter((field) => field.kind === "effect").map((field) => field.id) ?? [];
  const names = (text: string) =>
    text.includes("create") && (called.length > FEW || called.some((name) => text.includes(name)));
  const ids = Object.keys(cards).filter((ident) => effects.some((field) => names(cards[ident]?.values[field] ?? "")));
  const id = opened;
  for (let at = 0; at < ids.length; at += MOST_NAMING) {
    const query = { ids: ids.slice(at, at + MOST_NAMING).join(",") };
    const found = await ask(api.GET("/api/games/{game_id}/cards", { params: { path: { game_id: id }, query } }));
    if (id !== opened) return;
    merge(
      found.cards.filter((card) => card.revision >= (get().cards[card.id]?.revision ?? 0)),
      [],
    );
  }
  if (ids.length) touch(["name"]);
}

function merge(changed: Card[], gone: string[]): void {
  if (!changed.length && !gone.length) return;
  const cards = { ...get().cards };
  for (const ident of gone) delete cards[ident];
  for (const card of changed) cards[card.id] = withPending(card);
  for (const ident of [...gone, ...changed.map((card) => card.id)]) forgetFace(ident);
  const before = get().cards;
  const called = calledOtherwise(before, changed, gone);
  if (called.length) later(refetchNaming(called));
  const moved = gone.length > 0 || changed.some((card) => before[card.id]?.code !== card.code);
  set(moved ? { cards, order: inOrder(cards) } : { cards });
}

/** Whether an edit left the sets and views as they are: whoever follows the game need not look again then. */
const same = (game: Game, edit: Edit): boolean =>
  JSON.stringify([game.sets, game.views]) === JSON.stringify([edit.sets, edit.views]);

/** Takes an edit's answer in: the cards and decks as they are now, and what it did elsewhere. */
export function applyEdit(edit: Edit): void {
  answered.add(edit.seq);
  // Another game was opened meanwhile: nothing of this one is shown.
  if (edit.game !== get().game?.id) return;
  // Notes of a card that was gone are not here: they come back with it.
  const back = edit.cards.some((card) => !(card.id in get().cards));
  const [card] = edit.cards;
  if (edit.sheet && card) bringSheet(edit.sheet, card.revision);
  merge(edit.cards, edit.gone);
  const game = get().game;
  const decks = new Map(get().decks.map((deck) => [deck.id, deck]));
  for (const deck of edit.decks) decks.set(deck.id, withCounts(deck));
  for (const deck of edit.decks_gone ?? []) decks.delete(deck);
  const standings = edit.ripple.cards.length ? { ...get().standings } : get().standings;
  for (const card of edit.ripple.cards) {
    if (card.after && card.fits !== null && card.fits !== undefined) {
      standings[card.card] = { card: card.card, ...card.after, fits: card.fits };
    }
  }
  set({
    decks: [...decks.values()],
    standings,
    game: game && !same(game, edit) ? { ...game, sets: edit.sets, views: edit.views } : game,
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
