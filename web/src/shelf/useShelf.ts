// The games of the database, and edits of whole games. Each write has its own key, and the shelf is read again after it.

import { useState } from "react";
import { ApiError, newKey, PAGE, type Problem, type Schemas } from "../state/client";
import { useAsked } from "../state/query";
import * as requests from "./api";

export type Shelved = Schemas["ShelvedOut"];
export type Shape = Schemas["ShapeOut"];
export type SheetLook = Schemas["NewGameLookOut"];
export type ColumnWish = { name?: string | null; kind?: string | null; role?: string | null };
/** How a sheet is to be read otherwise than it was guessed; columns by number from 0. */
export type SheetWishes = {
  sheet?: string | null;
  header?: number | null;
  columns?: Record<number, ColumnWish>;
  /** By `row:column`; rows from 1, columns from 0. */
  corrections?: Record<string, string>;
  leave_empty?: boolean;
};

const key = () => ({ "idempotency-key": newKey(), "x-page": PAGE });

export function useShelf() {
  const { found, again } = useAsked(() => requests.shelf(), []);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  /** Does one thing; what is refused is told, and nothing is thrown. */
  async function doing<T>(work: () => Promise<T>): Promise<T | null> {
    setBusy(true);
    try {
      const done = await work();
      setTrouble(null);
      again();
      return done;
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      setTrouble(error.problem);
      return null;
    } finally {
      setBusy(false);
    }
  }
  const change = (game: string, body: Schemas["ShelfIn"]) =>
    doing(() => requests.changeGame({ params: { path: { game_id: game }, header: key() }, body }));
  return {
    shelf: found,
    trouble,
    busy,
    drop: () => setTrouble(null),
    begin: (name: string, shape: string | null) =>
      doing(() => requests.beginGame({ params: { header: key() }, body: { name, shape } })),
    demo: (demo: "ribbon-season" | "crowded-bed" | "potting-shed") =>
      doing(() => requests.beginGame({ params: { header: key() }, body: { name: "", demo } })),
    rename: (game: string, name: string) => change(game, { name }),
    putAway: (game: string, away: boolean) => change(game, { away }),
    copy: (game: string, cards: boolean) =>
      doing(() =>
        requests.copyGame({
          params: { path: { game_id: game }, header: key() },
          body: { cards },
        }),
      ),
    remove: (game: string, name: string) =>
      doing(() => requests.removeGame({ params: { path: { game_id: game }, query: { name } } })),
    restore: (file: File) => doing(() => requests.restoreArchive({ params: { header: key() }, ...form(file) })),
  };
}

export const lookAtSheet = (file: File, wishes: SheetWishes): Promise<SheetLook> =>
  requests.lookAtNewGame(form(file, { wishes: JSON.stringify(wishes) }));

export const beginFromSheet = (file: File, name: string, wishes: SheetWishes): Promise<Shelved> =>
  requests.beginWithSheet({
    params: { header: key() },
    ...form(file, { name, wishes: JSON.stringify(wishes) }),
  });

/** A file and what goes with it, as a form. */
function form(file: File, more: Record<string, string> = {}) {
  return {
    body: { file: "", ...more } as never,
    bodySerializer: () => {
      const sent = new FormData();
      sent.append("file", file);
      for (const [name, value] of Object.entries(more)) sent.append(name, value);
      return sent;
    },
  };
}
