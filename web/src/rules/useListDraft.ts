// A choice list with edits in flight, and the keys of its values meanwhile.
import { useRef } from "react";
import type { ListDoc, ValueDoc } from "../state/cardRules";
import type { Edit } from "../state/client";
import { fetchRules, useDocDraft } from "./useDocDraft";

export type Moves = Record<string, string | null>;
type Write = (doc: ListDoc, moves?: Moves) => Promise<Edit | null>;

const FRESH = "fresh/";

/** A value that the server has not named yet goes by the name it was typed under. */
const ownKey = (value: ValueDoc): string => value.id || `${FRESH}${value.name}`;
const live = (list: ListDoc): ValueDoc[] => (list.values ?? []).filter((value) => !value.retired);
const isOf = (value: ValueDoc, key: string): boolean =>
  ownKey(value) === key || (key.startsWith(FRESH) && value.name === key.slice(FRESH.length));

export function useListDraft(list: ListDoc, write: Write) {
  /** Under which key a value was first shown: what is typed into it stays there when its id comes. */
  const keys = useRef(new Map<string, string>());
  const fresh = useRef(new Set<string>());
  const { draft, edit, giveUp } = useDocDraft(list, {
    fetched: async () => (await fetchRules())?.lists.find((each) => each.id === list.id),
    write,
    cleaned: (doc) => ({ ...doc, values: live(doc) }),
  });
  const values = (change: (values: ValueDoc[]) => ValueDoc[], moves?: Moves) =>
    edit(
      (doc) => ({ ...doc, values: change(doc.values ?? []) }),
      (doc) => write(doc, moves),
    );
  return {
    draft,
    values: live(draft),
    giveUp,
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
