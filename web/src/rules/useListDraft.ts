// A choice list as it is shown while edits of it are on their way: each one is done to what the one before it became.
import { useEffect, useRef, useState } from "react";
import { api, ask, type Edit } from "../state/client";
import { underWay } from "../state/queue";
import { useGame } from "../state/store";
import type { ListDoc, ValueDoc } from "./useRules";

export type Moves = Record<string, string | null>;
type Change = (list: ListDoc) => ListDoc;
type Write = (doc: ListDoc, moves?: Moves) => Promise<Edit | null>;

const FRESH = "fresh/";

/** A value that the server has not named yet goes by the name it was typed under. */
const ownKey = (value: ValueDoc): string => value.id || `${FRESH}${value.name}`;
const live = (list: ListDoc): ValueDoc[] => (list.values ?? []).filter((value) => !value.retired);
const isOf = (value: ValueDoc, key: string): boolean =>
  ownKey(value) === key || (key.startsWith(FRESH) && value.name === key.slice(FRESH.length));

/** The list as the server has it now. */
async function standing(id: string): Promise<ListDoc | undefined> {
  const game = useGame.getState().game;
  if (!game) return undefined;
  const rules = await ask(api.GET("/api/games/{game_id}/rules", { params: { path: { game_id: game.id } } }));
  return rules.lists.find((each) => each.id === id);
}

export function useListDraft(list: ListDoc, write: Write) {
  const [draft, setDraft] = useState(list);
  const shown = useRef(draft);
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const onTheWay = useRef(0);
  /** Under which key a value was first shown: what is typed into it stays there when its id comes. */
  const keys = useRef(new Map<string, string>());
  const fresh = useRef(new Set<string>());
  const show = (next: ListDoc) => {
    shown.current = next;
    setDraft(next);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the server says is shown once nothing is on its way
  useEffect(() => {
    if (!onTheWay.current) show(list);
  }, [list]);

  const edit = (change: Change, moves: Moves = {}): Promise<Edit | null> => {
    const next = change({ ...shown.current, values: live(shown.current) });
    show(next);
    const alone = onTheWay.current === 0;
    onTheWay.current += 1;
    const go = async () => {
      const now = alone ? undefined : await standing(list.id);
      return write(now ? change({ ...now, values: live(now) }) : next, moves);
    };
    const done = line.current.then(go, go).finally(() => {
      onTheWay.current -= 1;
    });
    line.current = done.catch(() => undefined);
    return underWay(done);
  };
  const values = (change: (values: ValueDoc[]) => ValueDoc[], moves?: Moves) =>
    edit((doc) => ({ ...doc, values: change(doc.values ?? []) }), moves);
  return {
    draft,
    values: live(draft),
    giveUp: () => show(list),
    rename: (name: string) => edit((doc) => ({ ...doc, name })),
    add: (names: string[]) => {
      for (const name of names) fresh.current.add(name);
      return values((all) => [...all, ...names.map((name) => ({ id: "", name }) as ValueDoc)]);
    },
    put: (key: string, part: Partial<ValueDoc>) =>
      values((all) => all.map((value) => (isOf(value, key) ? { ...value, ...part } : value))),
    move: (key: string, by: number) =>
      values((all) => {
        const place = all.findIndex((value) => isOf(value, key));
        const next = [...all];
        if (place >= 0) next.splice(place + by, 0, ...next.splice(place, 1));
        return next;
      }),
    remove: (key: string, to?: string) =>
      values((all) => all.filter((value) => !isOf(value, key)), to ? { [key]: to } : {}),
    /** By what a value is told apart while it is shown. */
    keyOf: (value: ValueDoc): string => {
      if (!value.id) return ownKey(value);
      const known = keys.current.get(value.id);
      if (known) return known;
      const key = fresh.current.has(value.name) ? `${FRESH}${value.name}` : value.id;
      keys.current.set(value.id, key);
      return key;
    },
    /** By what edits name it. */
    nameOf: ownKey,
  };
}
