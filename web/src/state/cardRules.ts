// Card types and choice lists for editing: previewed by the server, then written.
import { useCallback, useState } from "react";
import { ApiError, api, ask, type Edit, type Schemas } from "./client";
import { useAsked } from "./query";
import { underWay } from "./queue";
import { useGame } from "./store";
import { change } from "./writing";

export type Rules = Schemas["RulesOut"];
export type TypeDoc = Rules["types"][number];
export type FieldDoc = NonNullable<TypeDoc["fields"]>[number];
export type ListDoc = Rules["lists"][number];
export type ValueDoc = NonNullable<ListDoc["values"]>[number];
export type Trouble = { where: string; what: string; mend: string };

/** The rules as the server has them, anew after each edit. */
export function useRules(): Rules | null {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const asking = () => ask(api.GET("/api/games/{game_id}/rules", { params: { path: { game_id: game } } }));
  return useAsked(game ? asking : null, [game, seq]).found;
}

const troubleOf = (error: unknown): Trouble => {
  if (!(error instanceof ApiError)) throw error;
  return { where: error.problem.where ?? "", what: error.problem.detail, mend: error.problem.mend ?? "" };
};

const signed = (game: string, key: string) => ({ path: { game_id: game }, header: { "idempotency-key": key } });

/** Looks at an edited type, and writes it unless cards would lose something: then what they would lose comes back. */
export function useTypeWriter() {
  const [trouble, setTrouble] = useState<Trouble | null>(null);
  const [asked, setAsked] = useState<{ doc: TypeDoc; plan: Schemas["TypePlanOut"] } | null>(null);
  const put = useCallback(async (doc: TypeDoc): Promise<Edit | null> => {
    setAsked(null);
    const base = useGame.getState().seq;
    return change((game, key) =>
      ask(
        api.PUT("/api/games/{game_id}/rules/types", { params: signed(game, key), body: { type: doc as never, base } }),
      ),
    );
  }, []);
  const look = useCallback(
    async (doc: TypeDoc): Promise<Edit | null> => {
      const game = useGame.getState().game;
      if (!game) return null;
      try {
        const plan = await ask(
          api.POST("/api/games/{game_id}/rules/types/plan", {
            params: { path: { game_id: game.id } },
            body: { type: doc as never, base: 0 },
          }),
        );
        setTrouble(null);
        if (plan.moved.length) {
          setAsked({ doc, plan });
          return null;
        }
        return plan.changes ? await put(doc) : null;
      } catch (error) {
        setTrouble(troubleOf(error));
        return null;
      }
    },
    [put],
  );
  const write = useCallback((doc: TypeDoc) => underWay(look(doc)), [look]);
  return { write, put, trouble, setTrouble, asked, setAsked };
}

type Moves = Record<string, string | null>;

/** The same for choice lists: values that cards have and that are gone need a place to go. */
export function useListWriter() {
  const [trouble, setTrouble] = useState<Trouble | null>(null);
  const [asked, setAsked] = useState<{ doc: ListDoc; unplaced: Schemas["UnplacedOut"][] } | null>(null);
  const write = useCallback(async (doc: ListDoc, moves: Moves = {}): Promise<Edit | null> => {
    const game = useGame.getState().game;
    if (!game) return null;
    try {
      const plan = await ask(
        api.POST("/api/games/{game_id}/rules/lists/plan", {
          params: { path: { game_id: game.id } },
          body: { list: doc as never, moves, base: 0 },
        }),
      );
      setTrouble(null);
      setAsked(plan.unplaced.length ? { doc, unplaced: plan.unplaced } : null);
      if (plan.unplaced.length || !plan.changes) return null;
      const base = useGame.getState().seq;
      return await change((id, key) =>
        ask(
          api.PUT("/api/games/{game_id}/rules/lists", {
            params: signed(id, key),
            body: { list: doc as never, moves, base },
          }),
        ),
      );
    } catch (error) {
      setTrouble(troubleOf(error));
      return null;
    }
  }, []);
  return { write, trouble, setTrouble, asked, setAsked };
}

export const putSet = (body: Schemas["SetIn"]): Promise<Edit | null> =>
  change((game, key) => ask(api.PUT("/api/games/{game_id}/sets", { params: signed(game, key), body })));

export const takeTypeOut = (type: string, to: string | null): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.DELETE("/api/games/{game_id}/rules/types/{type_id}", {
        params: { ...signed(game, key), path: { game_id: game, type_id: type }, query: { to } },
      }),
    ),
  );

export const takeListOut = (list: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.DELETE("/api/games/{game_id}/rules/lists/{list_id}", {
        params: { ...signed(game, key), path: { game_id: game, list_id: list } },
      }),
    ),
  );

export const takeSetOut = (set: string, to: string | null): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.DELETE("/api/games/{game_id}/sets/{set_id}", {
        params: { ...signed(game, key), path: { game_id: game, set_id: set }, query: { to } },
      }),
    ),
  );

/** Takes the sample cards that a game began with out, with their set. */
export const removeSamples = () =>
  change((game, key) => ask(api.POST("/api/games/{game_id}/samples/remove", { params: signed(game, key) })));
