// What was: marks, notes, revisions, differences; and how to ask for what may change under one's eyes.
import { useEffect, useState } from "react";
import { ApiError, api, ask, type Edit, type Problem, type Schemas } from "./client";
import { useGame } from "./store";
import { change, signed } from "./writing";

export type Difference = Schemas["DifferenceOut"];
export type CardDifference = Schemas["CardDifferenceOut"];
export type Revision = Schemas["RevisionOut"];
export type Entry = Schemas["EntryOut"];
export type FieldChange = Schemas["FieldChangeOut"];

type Asked<T> = { found: T | null; trouble: Problem | null; again: () => void };

/** Asks the server, and again whenever `when` changes. What was found stays in sight while it asks anew. */
export function useAsked<T>(asking: () => Promise<T>, when: unknown[]): Asked<T> {
  const [found, setFound] = useState<T | null>(null);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [round, setRound] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked is told by `when`
  useEffect(() => {
    let mine = true;
    asking().then(
      (answer) => {
        if (!mine) return;
        setFound(answer);
        setTrouble(null);
      },
      (error: unknown) => {
        if (mine && error instanceof ApiError) setTrouble(error.problem);
      },
    );
    return () => {
      mine = false;
    };
  }, [...when, round]);
  return { found, trouble, again: () => setRound(round + 1) };
}

/** How often things of these kinds changed: to ask anew when they do. */
export const useTouched = (...kinds: string[]): number =>
  useGame((state) => kinds.reduce((sum, kind) => sum + (state.touched[kind] ?? 0), 0));

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

export const addNote = (card: string, text: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.POST("/api/games/{game_id}/cards/{card_id}/notes", {
        params: withId(game, key, "card_id", card),
        body: { text },
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
  const [svg, setSvg] = useState<string | null>(null);
  useEffect(() => {
    if (seq === null) return;
    let mine = true;
    setSvg(null);
    ask(
      api.GET("/api/games/{game_id}/cards/{card_id}/revisions/{seq}/face", {
        params: { path: { game_id: game, card_id: card, seq } },
      }),
    ).then(
      (face) => mine && setSvg(face.svg),
      () => mine && setSvg(""),
    );
    return () => {
      mine = false;
    };
  }, [game, card, seq]);
  return svg;
}

const DAY = new Intl.DateTimeFormat(undefined, { weekday: "long", day: "numeric", month: "long", year: "numeric" });
const SHORT = new Intl.DateTimeFormat(undefined, { day: "numeric", month: "short" });
const HOUR = new Intl.DateTimeFormat(undefined, { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

/** Such as “23 Nov, 13:05”. */
export const shortly = (at: string): string => `${SHORT.format(new Date(at))}, ${hourOf(at)}`;
export const dayOf = (at: string): string => DAY.format(new Date(at));
export const hourOf = (at: string): string => HOUR.format(new Date(at));
