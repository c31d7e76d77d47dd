// Asking the server for what is shown, and anew when it may have changed: the one way of it.
import { useEffect, useRef, useState } from "react";
import { ApiError, type Problem } from "./client";
import { useGame } from "./store";

export type Asked<T> = { found: T | null; trouble: Problem | null; again: () => void };

/**
 * The answer to `asking`, asked anew whenever `when` says something else; null while there is nothing to ask.
 * While one answer is on its way only the newest question waits behind it. What fails leaves the last answer in sight: a refusal
 * is told as trouble, a lost connection is said in the strip.
 */
export function useAsked<T>(asking: (() => Promise<T>) | null, when: unknown): Asked<T> {
  const [found, setFound] = useState<T | null>(null);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [round, setRound] = useState(0);
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
      } catch (error) {
        if (mine === latest.current && error instanceof ApiError && error.problem.status) setTrouble(error.problem);
      } finally {
        busy.current = false;
        const waiting = next.current;
        next.current = null;
        waiting?.();
      }
    };
    if (busy.current) next.current = () => void go();
    else void go();
  }, [said, round]);
  // Who has left hears of no answer.
  useEffect(
    () => () => {
      latest.current += 1;
      next.current = null;
    },
    [],
  );
  return { found, trouble, again: () => setRound((before) => before + 1) };
}

/** How often things of these kinds changed: to ask anew when they do. */
export const useTouched = (...kinds: string[]): number =>
  useGame((state) => kinds.reduce((sum, kind) => sum + (state.touched[kind] ?? 0), 0));
