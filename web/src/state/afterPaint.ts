// A value that changes one frame later, so that dependent rendering does not delay input.
import { useCallback, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

const FRAME = 16;

/** `value` as it was before the latest change until that change has been painted; then `value`. And what brings it at once. */
export function useAfterPaint<T>(value: T): [shown: T, catchUp: () => void] {
  const [shown, setShown] = useState(value);
  const latest = useRef(value);
  latest.current = value;
  const catchUp = useCallback(() => flushSync(() => setShown(latest.current)), []);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const frame = requestAnimationFrame(() => {
      timer = setTimeout(() => setShown(value), FRAME);
    });
    return () => {
      cancelAnimationFrame(frame);
      clearTimeout(timer);
    };
  }, [value]);
  return [shown, catchUp];
}
