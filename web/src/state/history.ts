// What was: marks, notes, revisions, differences; and how to ask for what may change under one's eyes.

import { api, ask, type Edit, type Schemas } from "./client";
import { useAsked, useTouched } from "./query";
import { useGame } from "./store";
import { change, signed } from "./writing";

export type Difference = Schemas["DifferenceOut"];
export type CardDifference = Schemas["CardDifferenceOut"];
export type Revision = Schemas["RevisionOut"];
export type Entry = Schemas["EntryOut"];
export type FieldChange = Schemas["FieldChangeOut"];

const withId = <K extends string>(game: string, key: string, name: K, id: string) => ({
  path: { game_id: game, [name]: id } as { game_id: string } & Record<K, string>,
  header: { "idempotency-key": key },
});

export function useMarks(): Schemas["MomentOut"][] {
  const game = useGame((state) => state.game?.id ?? "");
  const touched = useTouched("mark");
  const asking = () => ask(api.GET("/api/games/{game_id}/marks", { params: { path: { game_id: game } } }));
  return useAsked(asking, [game, touched]).found ?? [];
}

export const addMark = (name: string, seq?: number): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.POST("/api/games/{game_id}/marks", { params: signed(game, key), body: { name, seq } })),
  );

export const renameMark = (mark: string, name: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.PUT("/api/games/{game_id}/marks/{mark_id}", { params: withId(game, key, "mark_id", mark), body: { name } }),
    ),
  );

export const takeMarkOut = (mark: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.DELETE("/api/games/{game_id}/marks/{mark_id}", { params: withId(game, key, "mark_id", mark) })),
  );

/** `pinned`: to the moment of a playtest when so many decisions had been taken. */
export const addNote = (
  card: string,
  text: string,
  pinned: { playtest: string; moment: number; turn: number } = { playtest: "", moment: -1, turn: 0 },
): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.POST("/api/games/{game_id}/cards/{card_id}/notes", {
        params: withId(game, key, "card_id", card),
        body: { text, ...pinned },
      }),
    ),
  );

export const editNote = (note: string, body: Schemas["NoteEditIn"]): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.PUT("/api/games/{game_id}/notes/{note_id}", { params: withId(game, key, "note_id", note), body })),
  );

export const takeNoteOut = (note: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.DELETE("/api/games/{game_id}/notes/{note_id}", { params: withId(game, key, "note_id", note) })),
  );

export const restoreCard = (card: string, seq: number, fields?: string[]): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.POST("/api/games/{game_id}/cards/{card_id}/restore", {
        params: withId(game, key, "card_id", card),
        body: { seq, fields },
      }),
    ),
  );

/** The face of a card as it was after an edit; null while it comes, empty where the card was not there. */
export function useFaceThen(card: string, seq: number | null): string | null {
  const game = useGame((state) => state.game?.id ?? "");
  const of = `${card}/${seq}`;
  const asking = async () => {
    const path = { game_id: game, card_id: card, seq: seq ?? 0 };
    const face = await ask(api.GET("/api/games/{game_id}/cards/{card_id}/revisions/{seq}/face", { params: { path } }));
    return { of, svg: face.svg };
  };
  const { found, trouble } = useAsked(seq === null ? null : asking, [game, of]);
  return found?.of === of ? found.svg : trouble ? "" : null;
}
