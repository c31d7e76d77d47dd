// The measurement of the open game, polled while it runs.

import { useCallback, useEffect, useState } from "react";
import { ApiError, type Schemas } from "../state/client";
import { say } from "../state/store";
import { touch } from "../state/sync";
import * as requests from "./api";

export type Measurement = Schemas["MeasurementOut"];
export type Player = Schemas["MeasureIn"]["player"];

const PAUSE = 350;
export const isUnderWay = (found: Measurement | null): boolean =>
  found !== null && (found.state === "compiling" || found.state === "running");

/** What games have measured by now is otherwise: who shows some of it asks anew. */
export const GAMES = "games measured";

export function useMeasure(game: string, seq: number) {
  const [found, setFound] = useState<Measurement | null>(null);
  // An answer requested before a start or stop may arrive after it: request it again.
  const [turn, setTurn] = useState(0);
  const params = { path: { game_id: game } };
  const underWay = isUnderWay(found);
  const settled = underWay ? "" : `${found?.state} ${found?.games} ${found?.player}`;
  useEffect(() => {
    if (settled) touch([GAMES]);
  }, [settled]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each edit may outdate it; while it runs it is asked for again and again
  useEffect(() => {
    let there = true;
    let timer = 0;
    const look = async () => {
      try {
        const next = await requests.measurement({ params });
        if (!there) return;
        setFound(next);
        if (isUnderWay(next)) timer = window.setTimeout(() => void look(), PAUSE);
      } catch {
        // A lost connection is said in the strip; it is asked again.
        if (there) timer = window.setTimeout(() => void look(), 4 * PAUSE);
      }
    };
    void look();
    return () => {
      there = false;
      clearTimeout(timer);
    };
  }, [game, seq, underWay, turn]);
  const told = useCallback(async (asked: Promise<Measurement>) => {
    try {
      setFound(await asked);
      setTurn((before) => before + 1);
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      say(error.problem);
    }
  }, []);
  return {
    found,
    begin: (games: number, player: Player, seed: number) =>
      told(requests.beginMeasuring({ params, body: { games, player, seed } })),
    more: (games: number) => told(requests.moreGames({ params, body: { games } })),
    stop: () => told(requests.stopMeasuring({ params })),
  };
}
