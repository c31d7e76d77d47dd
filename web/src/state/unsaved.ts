// Unsent edits survive a reload and a crash: they are stored in this window and sent again.
import { writeCells } from "./cells";
import type { Game } from "./client";
import { type OnTheWay, onTheWay } from "./pending";
import { type Unsaved, useGame } from "./store";

const REFUSED = "dramok-unsaved";
const SENT = "dramok-on-the-way";
/** What a card has besides its fields. */
const OWN = ["code", "type", "set"];
/** Ms after an edit was sent within which it is answered as a rule: nothing needs to be kept for it. */
const SOON = 200;

function read<T>(place: string, empty: T): T {
  try {
    return (JSON.parse(sessionStorage.getItem(place) ?? "null") as T) ?? empty;
  } catch {
    return empty;
  }
}

function keep(place: string, value: unknown): void {
  try {
    if (value) sessionStorage.setItem(place, JSON.stringify(value));
    else sessionStorage.removeItem(place);
  } catch {
    // A browser that keeps nothing: it is still on this page, and closing the page asks first.
  }
}

let waits: ReturnType<typeof setTimeout> | undefined;
/** What was kept when the page was left, of games that were not opened since. */
let left: OnTheWay[] = [];

function keepOnTheWay(): void {
  clearTimeout(waits);
  waits = undefined;
  const now = [...left, ...onTheWay()];
  keep(SENT, now.length ? now : null);
}

/** Begins to keep what is typed and not written; and asks before the window is closed over it. */
export function keepOverReloads(): void {
  const refused = Object.entries(read<Unsaved>(REFUSED, {})).filter(
    ([, each]) => typeof each?.text === "string" && typeof each.why === "string",
  );
  useGame.setState({ unsaved: Object.fromEntries(refused) });
  const all = read<OnTheWay[]>(SENT, []);
  left = Array.isArray(all) ? all : [];
  useGame.subscribe((now, before) => {
    if (now.unsaved !== before.unsaved) keep(REFUSED, now.unsaved);
    // What is not answered soon is kept: anything may happen to this page meanwhile.
    if (now.saving !== before.saving || now.away !== before.away) waits ??= setTimeout(keepOnTheWay, SOON);
  });
  window.addEventListener("pagehide", keepOnTheWay);
  window.addEventListener("beforeunload", (event) => {
    const { game, cards, unsaved, saving } = useGame.getState();
    if (saving > 0 || unsavedIn(game, cards, unsaved).length > 0) event.preventDefault();
  });
}

/** Sends again what was typed into a game and not written when the page was left; what the server got in the meantime is not sent twice. */
export function sendAgain(game: string): void {
  const kept = left.find((each) => each.game === game);
  if (!kept) return;
  left = left.filter((each) => each !== kept);
  const { cards } = useGame.getState();
  const typed = new Map<string, Record<string, string>>();
  for (const each of kept.fresh) typed.set(each.id, { ...each.typed });
  // The latest text of a cell counts, also of a card that was new.
  for (const { card, field, typed: text } of kept.cells) typed.set(card, { ...typed.get(card), [field]: text });
  const fresh = kept.fresh
    .filter((each) => !cards[each.id])
    .map((each) => ({ ...each, typed: typed.get(each.id) ?? {} }));
  const cells = [...typed].flatMap(([card, fields]) =>
    Object.entries(fields)
      .filter(([field, text]) => cards[card] && (OWN.includes(field) || (cards[card]?.values[field] ?? "") !== text))
      .map(([field, text]) => ({ card, field, typed: text })),
  );
  void writeCells(cells, fresh, "typed before the page was left", kept.seq);
  keepOnTheWay();
}

/** The places in the open game that hold a text that could not be written, in the order in which they were typed. */
export function unsavedIn(game: Game | null, cards: Record<string, unknown>, unsaved: Unsaved): [string, string][] {
  return Object.keys(unsaved)
    .map((place): [string, string] => {
      const end = place.lastIndexOf("/");
      return [place.slice(0, end), place.slice(end + 1)];
    })
    .filter(
      ([card, field]) =>
        cards[card] && (OWN.includes(field) || game?.fields.some((each) => each.id === field && !each.retired)),
    );
}
