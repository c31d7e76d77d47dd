// The price list as cells of sheets, and typed cells as changes of the price list.

import { choicesOf } from "../state/choices";
import type { Game, Schemas } from "../state/client";
import { freeName } from "../state/names";
import { LAST, type Put, type SheetCell, type SheetColumn, type SheetRow, TICK } from "../ui/CellSheet";
import { asPoints, type Budget, type Curve, type PriceRow, type Prices } from "./useParts";

export type PricesLook = Schemas["PricesLookOut"];
/** What was typed and can't be taken, in words. */
export class Unreadable extends Error {}

const number = (text: string): string => {
  const found = asPoints(text);
  if (found === null) throw new Unreadable(`“${text}” is not a number of points`);
  return found;
};
const count = (text: string): number => {
  if (!/^\s*\d{1,6}\s*$/.test(text)) throw new Unreadable(`“${text}” is no whole number`);
  return Number(text);
};
/** A choice's value by its name, or by a part of it that only one has. */
function chosen(choices: Choices, text: string): string | null {
  const wanted = text.trim().toLowerCase();
  if (!wanted || wanted === "any") return null;
  const exact = choices.find(([, name]) => name.toLowerCase() === wanted);
  const near = choices.filter(([, name]) => name.toLowerCase().includes(wanted));
  const found = exact ?? (near.length === 1 ? near[0] : undefined);
  if (!found) throw new Unreadable(`“${text}” is none of ${choices.map(([, name]) => name).join(", ")}`);
  return found[0];
}

type Choices = readonly (readonly [string, string])[];
const AFFECTS: Choices = [
  ["self", "yourself"],
  ["rival", "a rival"],
  ["anyone", "anyone"],
];
const REACH: Choices = [
  ["this", "this card"],
  ["one", "one"],
  ["all", "all"],
];
const MOMENTS: Record<string, string> = {
  play: "on play",
  enter: "on entering",
  leave: "on leaving",
  always: "always",
};
const moment = (cue: string): string => MOMENTS[cue] ?? cue;
/** What may hold of the moment of an effect. */
const HOLDS: [NonNullable<PriceRow["qualifier"]>, string][] = [
  ["condition", "under a condition"],
  ["limit", "only so often"],
  ["until", "for a while"],
  ["may", "if one likes"],
  ["offer", "at a price"],
];
/** What such an effect counts as where the price list does not say. */
const HALF = "0.5";
const STRAIGHT: Curve = { each: "0", flat: null, until: null, further: "0", table: [] };
const BARE = { resource: null, stat: null, affects: null, reach: null, cue: null, qualifier: null, private: false };

// ---- Effects ----

export const EFFECT_COLUMNS: SheetColumn[] = [
  { id: "id", name: "Name", width: 132 },
  { id: "verb", name: "Effect", width: 64 },
  { id: "of", name: "Applies to", width: 74 },
  {
    id: "each",
    name: "Worth",
    width: 58,
    number: true,
    step: 0.25,
    help: "Points for each one; several numbers with spaces are the worth of 1, of 2, of 3 …",
  },
  { id: "flat", name: "Flat", width: 48, help: "The worth is for any amount up to the next column, not for each" },
  {
    id: "until",
    name: "up to",
    width: 50,
    number: true,
    step: 1,
    help: "From here each further is worth something else",
  },
  { id: "further", name: "then", width: 50, number: true, step: 0.25, help: "Points for each further one" },
  { id: "affects", name: "Target", width: 74 },
  { id: "reach", name: "How many", width: 76 },
  { id: "cue", name: "When", width: 92 },
  { id: "qualifier", name: "Only if", width: 108, help: "Only effects of which this holds" },
  { id: "uses", name: "Used", width: 46, number: true, help: "The number of effects that it prices" },
  { id: "private", name: "Private", width: 60, help: "Counts like any other, and is in no copy for others" },
  { id: "remove", name: "", width: 34 },
];

export type Verb = Schemas["VerbOut"];
type Knows = { game: Game; verbs: Verb[]; cues: string[] };

/** What a verb is of, as its form says: a stat, a resource, nothing. */
const formOf = (verbs: Verb[], word: string) => verbs.find((each) => each.word === word)?.form;

function things({ game, verbs }: Pick<Knows, "game" | "verbs">, word: string): Choices | null {
  const form = formOf(verbs, word);
  if (form === "stat") return game.fields.filter((each) => each.kind === "number").map((each) => [each.id, each.name]);
  return form === "resource" ? game.resources.map((each) => [each.id, each.name]) : null;
}

const wordsOf = (verbs: Verb[]): Choices => verbs.map(({ word }) => [word, word]);

const names = (choices: Choices): string[] => ["any", ...choices.map(([, name]) => name)];
const named = (choices: Choices, value: string | null): string =>
  value === null ? "" : (choices.find(([id]) => id === value)?.[1] ?? value);

export function effectRows(
  prices: Prices,
  { game, verbs, cues }: Knows,
  look: PricesLook | null,
  remove: (row: string) => void,
  icon: React.ReactNode,
): SheetRow[] {
  const moments: Choices = [...cues, "always"].map((cue) => [cue, moment(cue)]);
  const words = verbs.map((each) => each.word);
  const equal = new Set(look?.equal.flatMap((each) => each.rows) ?? []);
  const rows = prices.rows.map((row): SheetRow => {
    const of = things({ game, verbs }, row.verb);
    const curve = row.curve;
    const listed = !!curve?.table.length;
    const free: SheetCell = { text: "", locked: true };
    return {
      id: row.id,
      name: row.id,
      cells: {
        id: { text: row.id, wrong: equal.has(row.id) },
        verb: { text: row.verb, choices: words },
        of: of ? { text: named(of, row.resource ?? row.stat), choices: names(of), hint: "any" } : free,
        affects: { text: named(AFFECTS, row.affects), choices: names(AFFECTS), hint: "any" },
        reach: { text: named(REACH, row.reach), choices: names(REACH), hint: "any" },
        cue: { text: named(moments, row.cue), choices: names(moments), hint: "any" },
        qualifier: { text: named(HOLDS, row.qualifier), choices: names(HOLDS), hint: "any" },
        each: { text: curve ? (listed ? curve.table.join(" ") : (curve.flat ?? curve.each)) : "", hint: "undecided" },
        flat: curve && !listed ? { text: curve.flat === null ? "" : TICK, tick: true } : free,
        until: curve && !listed ? { text: curve.until === null ? "" : String(curve.until), hint: "any" } : free,
        further: curve && (listed || curve.until !== null) ? { text: curve.further } : free,
        private: { text: row.private ? TICK : "", tick: true },
        uses: { text: look ? String(look.uses[`row:${row.id}`] ?? 0) : "", locked: true },
        remove: { text: `Remove ${row.id}`, act: () => remove(row.id), shown: icon },
      },
    };
  });
  const last: SheetCell = { text: "", hint: "another", choices: words };
  return [...rows, { id: LAST, name: "a new worth", cells: { verb: last } }];
}

/** The list with what was typed in its cells. Raises Unreadable for what says nothing. */
export function withEffects(prices: Prices, puts: Put[], { game, verbs, cues }: Knows): Prices {
  const moments: Choices = [...cues, "always"].map((cue) => [cue, moment(cue)]);
  const rows = [...prices.rows];
  // A row is found by the name it had: one of the cells may give it another.
  const places = new Map(rows.map((row, place) => [row.id, place]));
  for (const { row, column, text } of puts) {
    if (row === LAST) {
      const verb = chosen(wordsOf(verbs), text);
      if (verb) rows.push({ ...BARE, id: freeName(verb, ids(rows)), verb, curve: null });
      continue;
    }
    const place = places.get(row);
    const held = place === undefined ? undefined : rows[place];
    if (place === undefined || !held) continue;
    rows[place] =
      column === "id"
        ? { ...held, id: renamed(text, held, rows) }
        : changed(held, column, text, { game, verbs, moments });
  }
  return { ...prices, rows };
}

/** The name that a row gets: what was typed, with a number where another has that name. */
const renamed = (text: string, held: PriceRow, rows: PriceRow[]): string =>
  text.trim() ? freeName(text.trim(), ids(rows.filter((each) => each !== held))) : held.id;

const ids = (rows: PriceRow[]): string[] => rows.map((each) => each.id);

type Reads = { game: Game; verbs: Verb[]; moments: Choices };

function changed(row: PriceRow, column: string, text: string, { game, verbs, moments }: Reads): PriceRow {
  const curve = row.curve ?? STRAIGHT;
  switch (column) {
    case "verb": {
      const verb = chosen(wordsOf(verbs), text) ?? row.verb;
      const same = formOf(verbs, verb) === formOf(verbs, row.verb);
      return same ? { ...row, verb } : { ...row, resource: null, stat: null, verb };
    }
    case "of": {
      const value = chosen(things({ game, verbs }, row.verb) ?? [], text);
      return formOf(verbs, row.verb) === "stat" ? { ...row, stat: value } : { ...row, resource: value };
    }
    case "affects":
      return { ...row, affects: chosen(AFFECTS, text) as PriceRow["affects"] };
    case "reach":
      return { ...row, reach: chosen(REACH, text) as PriceRow["reach"] };
    case "cue":
      return { ...row, cue: chosen(moments, text) };
    case "qualifier":
      return { ...row, qualifier: chosen(HOLDS, text) as PriceRow["qualifier"] };
    case "private":
      return { ...row, private: text.trim() !== "" };
    case "each":
      return { ...row, curve: worth(curve, text) };
    case "flat":
      return {
        ...row,
        curve: text.trim()
          ? { ...curve, flat: curve.flat ?? curve.each, until: curve.until ?? 2 }
          : { ...curve, each: curve.flat ?? curve.each, flat: null },
      };
    case "until":
      if (!text.trim()) return { ...row, curve: { ...curve, each: curve.flat ?? curve.each, flat: null, until: null } };
      return { ...row, curve: { ...curve, until: count(text) } };
    case "further":
      return { ...row, curve: { ...curve, further: text.trim() ? number(text) : "0" } };
    default:
      return row;
  }
}

/** Nothing is open; one number is so much a point; several are listed by amount. */
function worth(curve: Curve, text: string): Curve | null {
  const parts = text
    .trim()
    .split(/[\s;]+/)
    .filter(Boolean);
  if (!parts.length || ["open", "undecided"].includes(text.trim().toLowerCase())) return null;
  if (parts.some((each) => asPoints(each) === null)) throw new Unreadable(`“${text}” is not a number of points`);
  const numbers = parts.map(number);
  const [only] = numbers;
  if (numbers.length > 1) return { ...STRAIGHT, table: numbers, further: curve.table.length ? curve.further : "0" };
  if (curve.table.length) return { ...STRAIGHT, each: only ?? "0" };
  // A worth of nothing is not the same as none: it stands.
  return curve.flat === null ? { ...curve, each: only ?? "0" } : { ...curve, each: only ?? "0", flat: only ?? "0" };
}

// ---- Stats ----

export const STAT_COLUMNS: SheetColumn[] = [
  { id: "name", name: "Stat", width: 150 },
  { id: "worth", name: "A point", width: 76, number: true, step: 0.25 },
  { id: "uses", name: "Used", width: 52, number: true },
];

export function statRows(prices: Prices, game: Game, look: PricesLook | null): SheetRow[] {
  return game.fields
    .filter((field) => field.kind === "number" && field.id !== game.roles.cost && field.id !== game.roles.copies)
    .map((field) => ({
      id: field.id,
      name: field.name,
      cells: {
        name: { text: field.name, locked: true },
        worth: {
          text: prices.stats[field.id] ?? "",
          hint: (game.roles.stats ?? []).includes(field.id) ? "undecided" : "no stat",
        },
        uses: { text: look ? String(look.uses[`stat:${field.id}`] ?? 0) : "", locked: true },
      },
    }));
}

export function withStats(prices: Prices, puts: Put[]): Prices {
  const stats = { ...prices.stats };
  for (const { row, text } of puts) {
    if (text.trim()) stats[row] = number(text);
    else delete stats[row];
  }
  return { ...prices, stats };
}

// ---- Multipliers ----

export const TIMES_COLUMNS: SheetColumn[] = [
  { id: "name", name: "Counted", width: 190 },
  { id: "times", name: "as", width: 64, number: true, step: 0.25 },
];

export function timesRows(prices: Prices, cues: string[]): SheetRow[] {
  const row = (id: string, name: string, text: string, hint = ""): SheetRow => ({
    id,
    name,
    cells: { name: { text: name, locked: true }, times: { text, hint } },
  });
  return [
    ...[...cues, "always"].map((cue) =>
      row(`cue:${cue}`, `an effect ${moment(cue)}, times`, prices.cues[cue] ?? "", "1"),
    ),
    ...HOLDS.map(([held, said]) =>
      row(`held:${held}`, `an effect ${said}, times`, prices.qualifiers[held] ?? "", held === "condition" ? HALF : "1"),
    ),
    row("all", "what is done to all, times", prices.all_counts_as),
    row("count", "a count in play, as", prices.expected_count),
    row("fair", "fair within this many points", prices.tolerance),
  ];
}

export function withTimes(prices: Prices, puts: Put[]): Prices {
  let now = prices;
  for (const { row, text } of puts) {
    if (row.startsWith("cue:")) {
      const cues = { ...now.cues };
      if (text.trim()) cues[row.slice(4)] = number(text);
      else delete cues[row.slice(4)];
      now = { ...now, cues };
    } else if (row.startsWith("held:")) {
      const qualifiers = { ...now.qualifiers };
      if (text.trim()) qualifiers[row.slice(5)] = number(text);
      else delete qualifiers[row.slice(5)];
      now = { ...now, qualifiers };
    } else if (row === "all") now = { ...now, all_counts_as: number(text) };
    else if (row === "count") now = { ...now, expected_count: number(text) };
    else now = { ...now, tolerance: number(text) };
  }
  return now;
}

// ---- Budgets ----

const COSTS = 11;
const MOST_COSTS = 40;
export const NO_BUDGET: Budget = { by_cost: ["0"], further: "0", rarity: {} };
/** The row of the budget that every type has which has none of its own. */
export const EVERY = "every";
const typeOf = (row: string): string => (row === EVERY ? "" : row.slice(5));
export const rowOf = (type: string): string => (type ? `type:${type}` : EVERY);

type Rarity = { id: string; name: string };
const rarities = (game: Game): Rarity[] => {
  return (choicesOf(game, game.roles.rarity)?.values ?? [])
    .filter((each) => !each.retired)
    .map(({ id, name }) => ({ id, name }));
};

export function budgetColumns(prices: Prices, game: Game): SheetColumn[] {
  const longest = Math.max(0, ...Object.values(prices.budgets).map((each) => each.by_cost.length));
  const costs = game.roles.cost ? Math.min(MOST_COSTS, Math.max(COSTS, longest)) : 1;
  const column = (id: string, name: string, width: number, help?: string): SheetColumn => ({
    id,
    name,
    width,
    number: true,
    step: 0.25,
    ...(help ? { help } : {}),
  });
  return [
    { id: "name", name: game.roles.cost ? "Cost" : "Type", width: 128 },
    ...Array.from({ length: costs }, (_, cost) =>
      column(`cost:${cost}`, game.roles.cost ? String(cost) : "Points", game.roles.cost ? 52 : 76),
    ),
    ...(game.roles.cost
      ? [column("further", "each more", 78, "Points for each cost beyond the last one written")]
      : []),
    ...rarities(game).map((each) =>
      column(
        `rarity:${each.id}`,
        each.name,
        Math.max(64, 18 + each.name.length * 8),
        "Allowed more (or less) by rarity",
      ),
    ),
  ];
}

export function budgetRows(prices: Prices, game: Game, look: PricesLook | null): SheetRow[] {
  const types = [{ id: "", name: "Every type" }, ...game.types];
  return types.map((type) => {
    const held = prices.budgets[type.id];
    const holds = held ?? prices.budgets[""];
    const line = look?.map.lines[type.id] ?? [];
    const cells: Record<string, SheetCell> = { name: { text: type.name, locked: true } };
    for (const column of budgetColumns(prices, game)) {
      const [room, part] = column.id.split(":");
      if (room === "cost") {
        const cost = Number(part);
        const follows = line.find((each) => each.cost === cost)?.points;
        cells[column.id] = { text: held?.by_cost[cost] ?? "", hint: follows === undefined ? "" : String(follows) };
      } else if (room === "further") cells[column.id] = { text: held?.further ?? "", hint: holds?.further ?? "" };
      else if (room === "rarity") {
        const own = held?.rarity[part ?? ""];
        cells[column.id] = { text: own ?? "", hint: holds?.rarity[part ?? ""] ?? "" };
      }
    }
    return { id: rowOf(type.id), name: type.name, cells };
  });
}

export function withBudgets(prices: Prices, puts: Put[]): Prices {
  const budgets = { ...prices.budgets };
  for (const { row, column, text } of emptiedFromTheEnd(puts)) {
    const type = typeOf(row);
    const [room, part = ""] = column.split(":");
    // Where there is nothing of its own, nothing can be emptied.
    if (!budgets[type] && !text.trim()) continue;
    // A type's own budget begins as that of every type.
    const now = budgets[type] ?? { ...(budgets[""] ?? NO_BUDGET) };
    const bare = !budgets[type] && !budgets[""];
    let next: Budget | null = now;
    if (room === "cost") {
      // Several numbers are the budgets of this cost and of those after it.
      const several = text.trim() ? text.trim().split(/[\s;]+/) : [""];
      next = bare ? { ...now, by_cost: [] } : now;
      for (const [more, one] of several.entries()) next = next && filled(next, Number(part) + more, one);
    } else if (room === "further") next = { ...now, further: text.trim() ? number(text) : "0" };
    else if (room === "rarity") {
      const rarity = { ...now.rarity };
      if (text.trim()) rarity[part] = number(text);
      else delete rarity[part];
      next = { ...now, rarity };
    }
    if (next) budgets[type] = next;
    else delete budgets[type];
  }
  return { ...prices, budgets };
}

/** What is written first, then what is emptied, the highest cost before the others: a line grows shorter from its end. */
function emptiedFromTheEnd(puts: Put[]): Put[] {
  const cost = ({ text, column }: Put) => (text.trim() || !column.startsWith("cost:") ? -1 : Number(column.slice(5)));
  return [...puts].sort((one, other) => {
    const [here, there] = [cost(one), cost(other)];
    if (here < 0 || there < 0) return Number(here >= 0) - Number(there >= 0);
    return there - here;
  });
}

/**
 * The budget with one cost typed in: what lies before it is filled up straight. Emptied at its end it grows shorter; in the middle
 * a cost lies straight between its neighbours.
 */
function filled(now: Budget, cost: number, text: string): Budget | null {
  if (!text.trim()) {
    const end = now.by_cost.length - 1;
    if (cost > end) return now;
    if (cost === end) return end ? { ...now, by_cost: now.by_cost.slice(0, -1) } : null;
    const [before, after] = [now.by_cost[cost - 1] ?? now.by_cost[cost + 1], now.by_cost[cost + 1]];
    const between = exact((Number(before) + Number(after)) / 2);
    return { ...now, by_cost: now.by_cost.map((each, at) => (at === cost ? between : each)) };
  }
  const typed = number(text);
  const by_cost = [...now.by_cost];
  const last = by_cost.length - 1;
  // The costs between the last one and this one lie on a straight line.
  const step = last < 0 ? 0 : (Number(typed) - Number(by_cost[last])) / (cost - last);
  for (let at = by_cost.length; at < cost; at++)
    by_cost.push(last < 0 ? "0" : exact(Number(by_cost[last]) + step * (at - last)));
  by_cost[cost] = typed;
  return { ...now, by_cost };
}

export const exact = (value: number): string => String(Math.round(value * 1e6) / 1e6);
