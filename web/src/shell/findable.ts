// What *Find anything* finds besides cards: rooms, decks, parts of the rules, commands with their keys, words of effects.
import type { Deck, Game } from "../state/client";
import { addCard, redoLast, undoLast } from "../state/edits";
import { plain } from "../ui/searchText";
import { ROOMS } from "./rooms";

/**
 * One thing that can be found. `also`: other words that people look for it by. `key` is its own key, `to` the address within the
 * game, or from the root with a slash before it; `run` is what it does instead.
 */
export type Findable = {
  id: string;
  kind: string;
  name: string;
  more?: string;
  also?: string;
  key?: string;
  to?: string;
  run?: () => Promise<string | null> | string | null;
};

/** Whether a thing has all the words, in its name, its kind or what else is said of it. */
export const holds = (each: Findable, words: string[]): boolean => {
  const text = plain(`${each.kind} ${each.name} ${each.more ?? ""} ${each.also ?? ""}`);
  return words.every((word) => text.includes(word));
};

/** The things that have all the words: first those that have them in what is read of them, then those found by their other words. */
export function foundBy(words: string[], all: Findable[]): Findable[] {
  const found = all.filter((each) => holds(each, words));
  const read = found.filter((each) => holds({ ...each, also: "" }, words));
  return [...read, ...found.filter((each) => !read.includes(each))];
}

export function places(decks: Deck[]): Findable[] {
  return [
    ...ROOMS.map(([room, name]): Findable => ({ id: `room ${room}`, kind: "room", name, to: room })),
    ...decks.map(
      (deck): Findable => ({ id: `deck ${deck.id}`, kind: "deck", name: deck.name, to: `decks?deck=${deck.id}` }),
    ),
  ];
}

const PARTS: Record<string, string> = { cues: "when", moments: "when", verbs: "does", others: "says" };

export function rulesAndCommands(game: Game): Findable[] {
  const found: Findable[] = [...commands(game)];
  for (const type of game.types) {
    found.push({ id: `type ${type.id}`, kind: "card type", name: type.name, to: `rules?at=type:${type.id}` });
  }
  for (const field of game.fields) {
    const home = game.types.find((type) => type.fields.includes(field.id));
    const to = `rules?at=type:${home?.id ?? game.types[0]?.id ?? ""}`;
    const stat = field.kind === "number" && field.id !== game.roles.copies;
    found.push({
      id: `field ${field.id}`,
      kind: stat ? "stat" : "field",
      name: field.name,
      more: field.kind,
      also: "field",
      to,
    });
  }
  for (const symbol of game.symbols) {
    found.push({
      id: `symbol ${symbol.id}`,
      kind: "symbol",
      name: symbol.name,
      also: "icon",
      to: "rules?at=game:symbols",
    });
  }
  for (const font of game.own_fonts) {
    found.push({ id: `font ${font.id}`, kind: "font", name: font.name, also: "typeface", to: "rules?at=game:symbols" });
  }
  for (const list of game.lists) {
    found.push({ id: `list ${list.id}`, kind: "choice list", name: list.name, to: `rules?at=list:${list.id}` });
    for (const value of list.values.slice(0, 200)) {
      const to = `rules?at=list:${list.id}`;
      found.push({ id: `choice ${list.id} ${value.id}`, kind: "choice", name: value.name, more: list.name, to });
    }
  }
  for (const set of game.sets) {
    found.push({ id: `set ${set.id}`, kind: "set", name: set.name, to: `rules?at=set:${set.id}` });
  }
  for (const name of game.keywords) {
    found.push({ id: `keyword ${name}`, kind: "keyword", name, to: "rules?at=keywords:all" });
  }
  for (const view of game.views) {
    const query = typeof view.doc.query === "string" ? view.doc.query : "";
    found.push({ id: `view ${view.id}`, kind: "view", name: view.name, to: `cards?q=${encodeURIComponent(query)}` });
  }
  for (const [part, words] of Object.entries(game.words)) {
    for (const word of words) {
      const more = PARTS[part] ?? part;
      found.push({ id: `word ${part} ${word}`, kind: "effect word", name: word, more, to: "cards?field=effect" });
    }
  }
  return found;
}

function commands(game: Game): Findable[] {
  const made = async (type: string) => {
    const edit = await addCard(type, game.sets[0]?.id ?? "");
    return edit?.made[0] ? `cards?card=${edit.made[0]}&field=${game.roles.name ?? "name"}` : null;
  };
  const list: Omit<Findable, "kind" | "id">[] = [
    ...game.types.map((type) => ({ name: `New card: ${type.name}`, run: () => made(type.id) })),
    ...game.types.map((type) => ({ name: `New field: ${type.name}`, to: `rules?at=type:${type.id}&new=field` })),
    { name: "New game", also: "start template another begin", to: "/shelf" },
    { name: "All games", also: "shelf switch", to: "/shelf" },
    { name: "New card type", to: "rules?new=type" },
    { name: "New choice list", to: "rules?new=list" },
    { name: "New set", to: "rules?new=set" },
    { name: "Keywords", also: "new keyword reminder glossary", to: "rules?at=keywords:all" },
    { name: "Resources", also: "totals currency", to: "rules?at=game:resources" },
    { name: "Rules of the table: opening hand, turn, what pays", to: "rules?at=game:table" },
    { name: "How it is played: seats and zones", to: "rules?at=play:seats" },
    { name: "How it is played: the turn and its phases", to: "rules?at=play:phases" },
    { name: "How it is played: the clash", to: "rules?at=play:clash" },
    { name: "How it is played: how a match ends", to: "rules?at=play:goals" },
    { name: "Deck rules", to: "rules?at=game:formats" },
    { name: "Worths and budgets", to: "rules?at=game:prices" },
    { name: "Phrase book: the words that effects are said in", to: "rules?at=game:phrases" },
    { name: "Symbols and fonts", also: "icon typeface own import svg png ttf otf woff2", to: "rules?at=game:symbols" },
    { name: "Field roles", also: "stat cost rarity faction", to: "rules?at=game:roles" },
    { name: "Odds of drawing cards", also: "chance probability draw opening hand", to: "decks?show=odds" },
    { name: "Opening hands", also: "sample draw", to: "decks?show=hands" },
    {
      name: "Sweep a number of a card: its fair value by games",
      also: "strength measure tune",
      to: "cards?open=strength",
    },
    { name: "Measure cards by games: three lenses", to: "balance?view=lenses" },
    { name: "Worths of price rows by costs and games", to: "balance?view=lenses&of=rows" },
    { name: "Decks against each other: duels", to: "balance?view=duels" },
    { name: "The health of the set", to: "balance?view=health" },
    { name: "Print what is out of date", to: "output?only=stale" },
    { name: "Print cards", to: "output" },
    { name: "Make table sheets", to: "output?part=sheets" },
    { name: "Mark this moment", to: "history?mark=new" },
    { name: "What changed", to: "history" },
    { name: "Import a table file", to: "files" },
    { name: "Back up this game", also: "backup archive save copy", to: "files?part=game" },
    { name: "Restore a backup", also: "back up archive open import", to: "/shelf" },
    { name: "Tables out", also: "export spreadsheet csv xlsx", to: "files?part=out" },
    { name: "Follow a table", also: "track watch import csv", to: "files?part=followed" },
    { name: "Import pictures", to: "files?part=pictures" },
    { name: "Unfinished cards", to: `cards?q=${encodeURIComponent("unfinished")}` },
    { name: "Find a card by a query", key: "Ctrl F", to: "cards" },
    { name: "Find and replace", key: "Ctrl H", to: "cards" },
    { name: "Undo", key: "Ctrl Z", run: () => undoLast().then(() => null) },
    { name: "Redo", key: "Ctrl Y", run: () => redoLast().then(() => null) },
    {
      name: "All keys",
      key: "?",
      run: () => {
        window.dispatchEvent(new Event("dramok-keys"));
        return null;
      },
    },
  ];
  return list.map((each) => ({ ...each, kind: "command", id: `command ${each.name}` }));
}
