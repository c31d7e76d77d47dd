import { useCallback, useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { ApiError, api, ask, type Schemas } from "../state/client";
import { say, useGame } from "../state/store";
import { StartPane } from "./StartPane";
import { Table } from "./Table";

export type Playtest = Schemas["PlaytestOut"];

/** A deck at the table. The game is in the URL, so that reload and share keep the place. */
export function PlaytestPage() {
  const game = useGame((state) => state.game);
  const [params, setParams] = useSearchParams();
  const id = params.get("table");
  const [table, setTable] = useState<Playtest | null>(null);
  const gameId = game?.id ?? "";

  useEffect(() => {
    if (!id || table?.id === id) return;
    ask(
      api.GET("/api/games/{game_id}/playtests/{playtest_id}", {
        params: { path: { game_id: gameId, playtest_id: id } },
      }),
    ).then(setTable, (error: unknown) => {
      if (error instanceof ApiError) say(error.problem);
      setParams({}, { replace: true });
    });
  }, [id, gameId, table?.id, setParams]);

  const move = useCallback(
    async (asked: Promise<Playtest>) => {
      try {
        setTable(await asked);
      } catch (error) {
        if (!(error instanceof ApiError)) throw error;
        say(error.problem);
        if (error.problem.status === 409 && id) {
          setTable(
            await ask(
              api.GET("/api/games/{game_id}/playtests/{playtest_id}", {
                params: { path: { game_id: gameId, playtest_id: id } },
              }),
            ),
          );
        }
      }
    },
    [gameId, id],
  );
  const decide = useCallback(
    (what: string, card = -1) => {
      if (!table) return;
      void move(
        ask(
          api.POST("/api/games/{game_id}/playtests/{playtest_id}/decisions", {
            params: { path: { game_id: gameId, playtest_id: table.id } },
            body: { do: what, card, taken: table.taken },
          }),
        ),
      );
    },
    [table, gameId, move],
  );
  const takeBack = useCallback(() => {
    if (!table?.taken) return;
    void move(
      ask(
        api.POST("/api/games/{game_id}/playtests/{playtest_id}/undo", {
          params: { path: { game_id: gameId, playtest_id: table.id } },
          body: { taken: table.taken },
        }),
      ),
    );
  }, [table, gameId, move]);
  const begin = async (deck: string, seed: number | null) => {
    try {
      const made = await ask(
        api.POST("/api/games/{game_id}/playtests", { params: { path: { game_id: gameId } }, body: { deck, seed } }),
      );
      setTable(made);
      setParams({ table: made.id });
    } catch (error) {
      if (error instanceof ApiError) say(error.problem);
    }
  };
  if (!game) return null;
  if (!id || !table || table.id !== id)
    return (
      <StartPane
        game={game}
        deck={params.get("deck")}
        asked={params.get("seed") ?? ""}
        begin={begin}
        open={(ident) => setParams({ table: ident })}
      />
    );
  return (
    <Table
      game={game}
      table={table}
      decide={decide}
      takeBack={takeBack}
      again={() => void begin(table.deck, table.seed)}
      leave={() => setParams({ deck: table.deck })}
    />
  );
}
