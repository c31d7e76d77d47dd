// A request that is answered by playing games: start, progress, stop; a newer one replaces it.
import { useEffect, useRef, useState } from "react";
import { ApiError, api, ask, type Problem } from "./client";
import { useGame } from "./store";

const PAUSE = 300;
export type Progress = { done: number; of: number; compiled?: number | null };
export type GamesAsked = ReturnType<typeof useGamesRequest>;

export function useGamesRequest(kind: "sweep" | "edit" | "duels" | "ends") {
  const game = useGame((state) => state.game?.id ?? "");
  const [running, setRunning] = useState<Progress | null>(null);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const asking = useRef<AbortController | null>(null);
  const stopped = useRef(false);
  useEffect(() => () => asking.current?.abort(), []);
  const underWay = running !== null;
  useEffect(() => {
    if (!underWay) return;
    const timer = setInterval(() => {
      const params = { path: { game_id: game, kind } };
      ask(api.GET("/api/games/{game_id}/measure/progress/{kind}", { params })).then(
        (found) =>
          setRunning((before) => before && { ...(found.of ? found : before), compiled: found.compiled ?? null }),
        () => undefined,
      );
    }, PAUSE);
    return () => clearInterval(timer);
  }, [underWay, game, kind]);
  return {
    running,
    trouble,
    /** Asks; `take` gets the answer unless another was asked for meanwhile. */
    put: async <T>(question: (signal: AbortSignal) => Promise<T>, take: (answer: T) => void) => {
      asking.current?.abort();
      const mine = new AbortController();
      asking.current = mine;
      stopped.current = false;
      setTrouble(null);
      setRunning({ done: 0, of: 1 });
      try {
        const answer = await question(mine.signal);
        if (asking.current === mine) take(answer);
      } catch (error) {
        // Stopped here before anything was known: that is no trouble.
        if (asking.current === mine && !stopped.current && error instanceof ApiError) setTrouble(error.problem);
      } finally {
        if (asking.current === mine) setRunning(null);
      }
    },
    /** Ends the games: what is known by then is the answer, where a part of it is one. */
    stop: () => {
      stopped.current = true;
      const params = { path: { game_id: game, kind } };
      ask(api.POST("/api/games/{game_id}/measure/stop/{kind}", { params })).catch(() => undefined);
    },
  };
}
