// Asking the server for what is shown, and anew when it may have changed: the one way of it.
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, isAway, type Problem } from "./client";
import { useGame } from "./store";

/** `away`: the server could not be reached; it is asked again by itself. */
export type Asked<T> = { found: T | null; trouble: Problem | null; away: boolean; again: () => void };

/** After so many ms what failed alone, while the connection stands, is asked again. */
const ALONE = 2000;

/**
 * What a lost connection left unanswered is asked again once it is back: whatever failed is told to `lost`, and `round`
 * counts on when the time has come.
 */
export function useOnceBack(): { round: number; lost: (error: unknown) => void } {
  const reconnected = useGame((state) => state.reconnected);
  const [round, setRound] = useState(0);
  const waits = useRef(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const next = useCallback(() => {
    if (waits.current) setRound((before) => before + 1);
    waits.current = false;
    clearTimeout(timer.current);
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time that the connection is back
  useEffect(next, [reconnected, next]);
  useEffect(() => () => clearTimeout(timer.current), []);
  const lost = useCallback(
    (error: unknown) => {
      if (!isAway(error)) return;
      waits.current = true;
      clearTimeout(timer.current);
      // Nobody follows a game, or its news still come: nothing will say that the server is back.
      const look = () => {
        if (useGame.getState().connected) next();
        else timer.current = setTimeout(look, ALONE);
      };
      timer.current = setTimeout(look, ALONE);
    },
    [next],
  );
  return { round, lost };
}

/**
 * The answer to `asking`, asked anew whenever `when` says something else; null while there is nothing to ask.
 * While one answer is on its way only the newest question waits behind it. What fails leaves the last answer in sight: a refusal
 * is told as trouble; a lost connection is said in the strip, and what it left unanswered is asked once it is back.
 */
export function useAsked<T>(asking: (() => Promise<T>) | null, when: unknown): Asked<T> {
  const [found, setFound] = useState<T | null>(null);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [away, setAway] = useState(false);
  const [round, setRound] = useState(0);
  const onceBack = useOnceBack();
  const latest = useRef(0);
  const busy = useRef(false);
  const next = useRef<(() => void) | null>(null);
  const said = JSON.stringify(when);
  // biome-ignore lint/correctness/useExhaustiveDependencies: all that is asked is told by `when`
  useEffect(() => {
    latest.current += 1;
    next.current = null;
    if (!asking) {
      setFound(null);
      setTrouble(null);
      return;
    }
    const mine = latest.current;
    const go = async () => {
      busy.current = true;
      try {
        const answer = await asking();
        if (mine !== latest.current) return;
        setFound(answer);
        setTrouble(null);
        setAway(false);
      } catch (error) {
        if (mine !== latest.current) return;
        onceBack.lost(error);
        setAway(isAway(error));
        if (error instanceof ApiError && error.problem.status) setTrouble(error.problem);
      } finally {
        busy.current = false;
        const waiting = next.current;
        next.current = null;
        waiting?.();
      }
    };
    if (busy.current) next.current = () => void go();
    else void go();
  }, [said, round, onceBack.round]);
  // Who has left hears of no answer.
  useEffect(
    () => () => {
      latest.current += 1;
      next.current = null;
    },
    [],
  );
  return { found, trouble, away, again: () => setRound((before) => before + 1) };
}

/** How often things of these kinds changed: to ask anew when they do. */
export const useTouched = (...kinds: string[]): number =>
  useGame((state) => kinds.reduce((sum, kind) => sum + (state.touched[kind] ?? 0), 0));
