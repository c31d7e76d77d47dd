// The cards that match the query, in order; rows stay in place while cells are edited.

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Schemas } from "../state/client";
import { isUnmade } from "../state/pending";
import { useOnceBack } from "../state/query";
import { useGame } from "../state/store";
import * as requests from "./api";

export type Sort = { field: string; down: boolean };
export type FoundState = {
  rows: string[];
  problem: Schemas["FoundOut"]["problem"];
  parts: Schemas["PartOut"][];
  /** The query that `parts` and `problem` belong to. */
  answered: string;
  waiting: number;
  /** How many rows would come, go or move if the query were asked again. */
  stale: number;
  refresh: () => void;
  /** Keeps cards in sight, whatever the query says of them; those that were just made come last. */
  include: (ids: string[], made?: boolean) => void;
};

const PAUSE = 60;

type Answer = { query: string; sort: string; ids: string[] | null };
const ALL: Answer = { query: "", sort: "[]", ids: null };
type Said = { problem: FoundState["problem"]; parts: FoundState["parts"]; query: string; waiting: number };
const UNSAID: Said = { problem: null, parts: [], query: "", waiting: 0 };

/** `settled` is the part of the query that is surely sound: it answers while what is being typed has a mistake. */
export function useFound(query: string, settled: string, sort: Sort[], setId: string): FoundState {
  const game = useGame((state) => state.game?.id ?? "");
  const order = useGame((state) => state.order);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const standings = useGame((state) => state.standings);
  const sorted = JSON.stringify(sort);
  const plain = !query.trim() && !sort.length;
  const [shown, setShown] = useState<Answer>(ALL);
  const [fresh, setFresh] = useState<string[] | null>(null);
  /** Cards made here since all cards were shown, in the order in which they were made: they stay below the others. */
  const [added, setAdded] = useState<string[]>([]);
  const [said, setSaid] = useState<Said>(UNSAID);
  const onceBack = useOnceBack();
  const latest = useRef(0);
  const known = useRef(shown);
  known.current = shown;
  // While cards are still being judged the query is asked once more for every few hundred that are.
  const again = useMemo(
    () => (said.waiting > 0 ? Math.ceil(Object.keys(standings).length / 400) : 0),
    [standings, said.waiting],
  );

  // biome-ignore lint/correctness/useExhaustiveDependencies: seq and `again` ask the same query once more
  useEffect(() => {
    latest.current += 1;
    const mine = latest.current;
    if (plain) {
      if (known.current.ids) setAdded([]);
      // All cards: nothing is new where nothing was asked before.
      setShown((before) => (before.ids ? ALL : before));
      setFresh(null);
      setSaid((before) => (before.query || before.problem ? UNSAID : before));
      return;
    }
    const timer = setTimeout(async () => {
      try {
        const found = await requests.findCards({ params: { path: { game_id: game } }, body: { query, sort } });
        if (mine !== latest.current) return;
        setSaid({ problem: found.problem, parts: found.parts, query, waiting: found.waiting });
        if (found.problem) {
          const sound = settled.trim() && settled !== query && known.current.query !== settled ? settled : null;
          if (sound === null) return;
          const less = await requests.findCards({
            params: { path: { game_id: game } },
            body: { query: sound, sort },
          });
          if (mine === latest.current && !less.problem) setShown({ query: sound, sort: sorted, ids: less.cards });
          return;
        }
        const before = known.current;
        const same = before.ids && before.query === query && before.sort === sorted;
        if (same && !said.waiting) setFresh(found.cards);
        else {
          setShown({ query, sort: sorted, ids: found.cards });
          setFresh(null);
        }
      } catch (error) {
        // The rows stay; a lost connection is said in the strip.
        if (mine === latest.current) onceBack.lost(error);
      }
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [game, query, sorted, plain, seq, again, onceBack.round]);

  const rows = useMemo(() => {
    const there = (id: string) => cards[id] !== undefined && (!setId || cards[id]?.set === setId);
    if (shown.ids) return shown.ids.filter(there);
    const last = new Set(added);
    return [...order.filter((id) => !last.has(id)), ...added].filter(there);
  }, [shown, order, cards, setId, added]);
  const stale = useMemo(() => {
    if (!shown.ids) {
      const sorted = order.filter((id) => cards[id] && (!setId || cards[id]?.set === setId));
      return added.some((id) => isUnmade(cards[id])) ? 0 : rows.filter((id, place) => sorted[place] !== id).length;
    }
    if (!fresh) return 0;
    const now = shown.ids.filter((id) => cards[id]);
    const inNow = new Set(now);
    const inFresh = new Set(fresh);
    const differ = now.filter((id) => !inFresh.has(id)).length + fresh.filter((id) => !inNow.has(id)).length;
    return differ || now.filter((id, place) => fresh[place] !== id).length;
  }, [fresh, shown, cards, order, rows, added, setId]);
  const include = useCallback((ids: string[], made = true) => {
    const and = (before: string[]) => [...before, ...ids.filter((id) => !before.includes(id))];
    setShown((before) => (before.ids ? { ...before, ids: and(before.ids) } : before));
    if (made) setAdded(and);
  }, []);
  return {
    rows,
    problem: said.problem,
    parts: said.parts,
    answered: said.query,
    waiting: said.waiting,
    stale,
    refresh: () => {
      if (fresh) setShown({ query, sort: sorted, ids: fresh });
      setFresh(null);
      setAdded([]);
    },
    include,
  };
}
