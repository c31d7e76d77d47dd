// The parts of the rules: read and written as a whole, each write one undoable edit.

import { useEffect, useRef, useState } from "react";
import type { Edit, Schemas } from "../state/client";
import { useAsked, useTouched } from "../state/query";
import { inLine } from "../state/queue";
import { say, useGame } from "../state/store";
import { change, signed } from "../state/writing";
import * as requests from "./api";
import type { PlayDoc } from "./play/playDoc";

export type OwnSymbol = Schemas["OwnSymbol"];
export type OwnFont = {
  id: string;
  name: string;
  file: string;
  license: string;
  uses: FontUse[];
};
export type FontUse = "name" | "body" | "italic" | "figures";
export type Resource = {
  id: string;
  name: string;
  names: string;
  symbol: string;
  start: number;
  each_turn: number;
  cap: number | null;
  shared: boolean;
  refill: boolean;
  lasts?: "kept" | "turn";
};
export type TableDoc = {
  pays: string | null;
  opening_hand: number;
  turn_draw: number;
  hand_limit: number | null;
  empty_draw_pile: "reshuffle" | "nothing" | "lose";
  turn: string;
  dismiss: string;
  zones: Record<string, string>;
};
export type FormatDoc = Schemas["Format"];
/** Two rules that no deck can keep together. */
export type ClashDoc = Schemas["ClashOut"];
export type Budget = { by_cost: string[]; further: string; rarity: Record<string, string> };
/** A kind of effect and what it is worth; what a row does not name it matches whatever it is. `curve` null: not decided yet. */
export type PriceRow = {
  id: string;
  verb: string;
  resource: string | null;
  stat: string | null;
  affects: "self" | "rival" | "anyone" | null;
  reach: "this" | "one" | "all" | null;
  cue: string | null;
  qualifier: "condition" | "limit" | "until" | "may" | "offer" | null;
  curve: Curve | null;
  /** Left out of copies for others. */
  private: boolean;
};
/** Worth of an amount: so much a point, or `flat` in all, up to `until`, then `further` each; or as the `table` lists it. */
export type Curve = { each: string; flat: string | null; until: number | null; further: string; table: string[] };
export type Prices = {
  stats: Record<string, string>;
  rows: PriceRow[];
  cues: Record<string, string>;
  qualifiers: Record<string, string>;
  all_counts_as: string;
  expected_count: string;
  budgets: Record<string, Budget>;
  tolerance: string;
};
export type RolesDoc = Record<string, string | string[] | null>;
export type Parts = {
  roles: RolesDoc;
  resources: Resource[];
  table: TableDoc;
  play: PlayDoc | null;
  formats: FormatDoc[];
  prices: Prices;
  tags: string[];
  phrases: PhraseDoc;
  symbols: OwnSymbol[];
  fonts: OwnFont[];
};
/** The game's own words by room and key; `numbers` are said instead of 1, 2, 3 … */
export type PhraseDoc = Record<(typeof PHRASE_ROOMS)[number], Record<string, string>> & {
  damage: string;
  numbers: string[];
  english: boolean;
};
export const PHRASE_ROOMS = ["cues", "verbs", "picks", "sides", "filters", "nouns", "plurals"] as const;
export type PartName = keyof Parts;

/**
 * The parts as the server has them, with what is on its way: a part is written whole, so the next edit must begin from the last
 * one and not from what was read before it.
 */
export function useParts() {
  const game = useGame((state) => state.game?.id ?? "");
  const touched = useTouched("game");
  const { found } = useAsked(game ? () => requests.ruleParts({ params: { path: { game_id: game } } }) : null, [
    game,
    touched,
  ]);
  const [underway, setUnderway] = useState<Partial<Parts>>({});
  const waiting = useRef(0);
  const latest = useRef<Parts | null>(null);
  const written = useRef(0);
  useEffect(() => {
    // An answer that was asked for before the last edit was written says less than what is on its way.
    if (!waiting.current && found && found.seq >= written.current) setUnderway({});
  }, [found]);
  const [asking, setAsking] = useState<Asking | null>(null);
  const show = <Name extends PartName>(part: Name, value: Parts[Name]) => {
    latest.current = latest.current && { ...latest.current, [part]: value };
    setUnderway((now) => ({ ...now, [part]: value }));
  };
  /** What was not written is not shown as if it stood. */
  const back = <Name extends PartName>(part: Name, value: Parts[Name], before: Parts[Name] | undefined) => {
    if (latest.current?.[part] === value && before) latest.current = { ...latest.current, [part]: before };
    setUnderway((now) => (now[part] === value ? { ...now, [part]: before } : now));
  };
  const send = <Name extends PartName>(part: Name, value: Parts[Name], before: Parts[Name] | undefined) =>
    change((open, key, base) => {
      const sent = signed(open, key);
      return requests.putRulePart({
        params: { ...sent, path: { ...sent.path, part } },
        body: { value: value as never, base },
      });
    }).then((done) => {
      waiting.current -= 1;
      if (done) written.current = done.seq;
      else back(part, value, before);
      return done;
    });
  /** Edits that are being looked at: what stood before the first of them, and how often the part was edited since. */
  const looking = useRef(new Map<PartName, { before: unknown; turn: number }>());
  const write = async <Name extends PartName>(part: Name, value: Parts[Name]): Promise<Edit | null> => {
    const held = looking.current.get(part);
    const before = held ? (held.before as Parts[Name]) : latest.current?.[part];
    const turn = (held?.turn ?? 0) + 1;
    if (!held) waiting.current += 1;
    show(part, value);
    if (!LOOKED.has(part)) return send(part, value, before);
    looking.current.set(part, { before, turn });
    setAsking((now) => (now?.part === part ? null : now));
    const would = await lookAt(game, part, value);
    const newer = looking.current.get(part)?.turn !== turn;
    if (!would.length) {
      // What does no harm is written, also when another edit has begun from it: that one is looked at for itself.
      if (newer) {
        looking.current.set(part, { before: value, turn: looking.current.get(part)?.turn ?? turn });
        waiting.current += 1;
      } else looking.current.delete(part);
      return send(part, value, before);
    }
    // The newer edit was made of this one, and holds it.
    if (newer) return null;
    const stood = looking.current.get(part)?.before as Parts[Name] | undefined;
    const done = () => {
      looking.current.delete(part);
      setAsking(null);
    };
    const leave = () => {
      done();
      waiting.current -= 1;
      back(part, value, stood);
    };
    // Of one part is asked at a time: what is asked of another is left as it was, and that is said.
    open.current?.leave();
    if (open.current || gone.current) say(LEFT);
    if (gone.current) return null;
    setAsking({
      part,
      would,
      leave,
      take: () => {
        done();
        void send(part, value, stood);
      },
    });
    return null;
  };
  const open = useRef(asking);
  open.current = asking;
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
      if (open.current) say(LEFT);
    };
  }, []);
  const parts = found ? ({ ...found.parts, ...underway } as Parts) : null;
  latest.current = parts;
  return {
    parts,
    verbs: found?.verbs ?? [],
    cues: found?.cues ?? [],
    phrases: found?.phrases ?? [],
    symbols: found?.symbols ?? [],
    clashes: found?.clashes ?? [],
    starts: found?.starts ?? [],
    actions: found?.phase_actions ?? [],
    write,
    asking,
  };
}

/** An edit that does more than meets the eye, in words: it is written when that was seen. */
export type Asking = {
  part: PartName;
  would: string[];
  take: () => void;
  leave: () => void;
};
/** Parts whose edits are looked at first. Worths and phrases show what they do while one types. */
const LOOKED = new Set<PartName>(["formats", "resources", "roles", "table"]);
export const LEFT = {
  type: "about:blank",
  title: "not written",
  status: 0,
  where: "Rules",
  detail: "the last edit was not taken: you left before you said so",
  mend: "go back and write it again",
};

/** What writing a part would do, in words; nothing where that can't be said: the server says why when it is written. */
const lookAt = (game: string, part: PartName, value: unknown): Promise<string[]> =>
  // In the line of what is written: until it is known, not all is saved.
  inLine(() =>
    requests.lookAtOnePart({
      params: { path: { game_id: game, part } },
      body: { value: value as never },
    }),
  ).then(
    (look) => look.said,
    () => [],
  );

export type Write = ReturnType<typeof useParts>["write"];

/** Points as typed, a comma for a point allowed; null for what is no number. */
export const asPoints = (text: string): string | null => {
  const plain = text.trim().replace(",", ".").replace("−", "-");
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain) ? plain : null;
};
