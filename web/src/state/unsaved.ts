// What was typed and could not be written is kept by this window, over a reload and a crash too, until it is mended or given up.
import type { Game } from "./client";
import { type Unsaved, useGame } from "./store";

const PLACE = "dramok-unsaved";
/** What a card has beside its fields. */
const OWN = ["code", "type", "set"];

function remembered(): Unsaved {
  try {
    const kept = Object.entries(JSON.parse(sessionStorage.getItem(PLACE) ?? "{}") as Unsaved);
    return Object.fromEntries(
      kept.filter(([, each]) => typeof each?.text === "string" && typeof each.why === "string"),
    );
  } catch {
    return {};
  }
}

/** Begins to keep what is typed and not written; and asks before the window is closed over it. */
export function keepOverReloads(): void {
  useGame.setState({ unsaved: remembered() });
  useGame.subscribe((now, before) => {
    if (now.unsaved === before.unsaved) return;
    try {
      sessionStorage.setItem(PLACE, JSON.stringify(now.unsaved));
    } catch {
      // A browser that keeps nothing: it still stands on this page, and closing it is asked about.
    }
  });
  window.addEventListener("beforeunload", (event) => {
    const { game, cards, unsaved, saving } = useGame.getState();
    if (saving > 0 || unsavedIn(game, cards, unsaved).length > 0) event.preventDefault();
  });
}

/** The places in the open game that hold such a text, in the order in which they were typed. */
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
