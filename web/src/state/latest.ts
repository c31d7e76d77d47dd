// Asking while somebody types: the latest question wins.
import { useEffect, useRef, useState } from "react";

/**
 * The answer to `asking`, asked anew whenever `said` changes; null while there is nothing to ask.
 * While one answer is on its way only the newest question waits behind it. What fails leaves the last answer in sight:
 * a lost connection is said in the strip.
 */
export function useLatest<T>(asking: (() => Promise<T>) | null, said: string): T | null {
  const [found, setFound] = useState<T | null>(null);
  const latest = useRef(0);
  const busy = useRef(false);
  const next = useRef<(() => void) | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: all that is asked is told by `said`
  useEffect(() => {
    latest.current += 1;
    next.current = null;
    if (!asking) {
      setFound(null);
      return;
    }
    const mine = latest.current;
    const go = async () => {
      busy.current = true;
      try {
        const answer = await asking();
        if (mine === latest.current) setFound(answer);
      } catch {
        // See above.
      } finally {
        busy.current = false;
        const waiting = next.current;
        next.current = null;
        waiting?.();
      }
    };
    if (busy.current) next.current = () => void go();
    else void go();
  }, [said]);
  return found;
}
