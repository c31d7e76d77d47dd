// A value that follows a frame later: what hangs on it never holds up what is pressed.
import { useEffect, useState } from "react";

const FRAME = 16;

/** `value` as it was before the latest change until that change has been painted; then `value`. */
export function useAfterPaint<T>(value: T): T {
  const [shown, setShown] = useState(value);
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
  return shown;
}
