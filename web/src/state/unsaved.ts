// What was typed and is not written yet survives a reload and a crash: this window keeps it, and sends it again.
import { writeCells } from "./cells";
import type { Game } from "./client";
import { type OnTheWay, onTheWay } from "./pending";
import { type Unsaved, useGame } from "./store";

const REFUSED = "dramok-unsaved";
const SENT = "dramok-on-the-way";
/** What a card has besides its fields. */
const OWN = ["code", "type", "set"];
/** `seq`: up to which edit the page had seen the game. */
type Kept = OnTheWay & { game: string; seq: number };

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

function keepOnTheWay(): void {
  const { game, seq, saving } = useGame.getState();
  const now = onTheWay();
  const any = saving > 0 && game && now.cells.length + now.fresh.length > 0;
  keep(SENT, any ? { ...now, game: game.id, seq } : null);
}

/** Begins to keep what is typed and not written; and asks before the window is closed over it. */
export function keepOverReloads(): void {
  const refused = Object.entries(read<Unsaved>(REFUSED, {})).filter(
    ([, each]) => typeof each?.text === "string" && typeof each.why === "string",
  );
  useGame.setState({ unsaved: Object.fromEntries(refused) });
  useGame.subscribe((now, before) => {
    if (now.unsaved !== before.unsaved) keep(REFUSED, now.unsaved);
    // While the server is away anything may happen to this page: what waits is kept at once.
    if ((now.away && (now.cards !== before.cards || now.saving !== before.saving)) || now.away !== before.away)
      keepOnTheWay();
  });
  window.addEventListener("pagehide", keepOnTheWay);
  window.addEventListener("beforeunload", (event) => {
    const { game, cards, unsaved, saving } = useGame.getState();
    if (saving > 0 || unsavedIn(game, cards, unsaved).length > 0) event.preventDefault();
  });
}

/** Sends again what was on its way when the page was left; what the server got in the meantime is not sent twice. */
export function sendAgain(game: string): void {
  const kept = read<Kept | null>(SENT, null);
  if (kept?.game !== game) return;
  keep(SENT, null);
  const { cards } = useGame.getState();
  const fresh = kept.fresh.filter((each) => !cards[each.id]);
  const differs = (card: string, field: string, typed: string) =>
    cards[card] !== undefined && (cards[card]?.values[field] ?? "") !== typed;
  const made = new Set(fresh.map((each) => each.id));
  for (const each of fresh)
    for (const cell of kept.cells) if (cell.card === each.id) each.typed[cell.field] = cell.typed;
  const cells = kept.cells.filter((cell) => !made.has(cell.card) && differs(cell.card, cell.field, cell.typed));
  void writeCells(cells, fresh, "typed before the page was left", kept.seq);
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
