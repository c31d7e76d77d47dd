// A button whose menu is loaded on hover or focus.
import { type ComponentType, type ReactNode, useEffect, useRef, useState } from "react";

export type Trigger = { className: string; label?: string; children: ReactNode };
/** `wanted`: it was opened while it was on its way, and opens at once. */
export type Opened<P> = ComponentType<P & { trigger: Trigger; wanted: boolean }>;
type Props<P> = { part: () => Promise<Opened<P>>; trigger: Trigger; props: P };

export function Later<P extends object>({ part, trigger, props }: Props<P>) {
  const [come, setCome] = useState<{ Part: Opened<P> } | null>(null);
  const wanted = useRef(false);
  const there = useRef(true);
  useEffect(() => {
    there.current = true;
    return () => {
      there.current = false;
    };
  }, []);
  const ask = () => {
    if (!come) void part().then((Part) => there.current && setCome({ Part }));
  };
  const open = () => {
    wanted.current = true;
    ask();
  };
  if (come) return <come.Part {...props} trigger={trigger} wanted={wanted.current} />;
  return (
    <button
      type="button"
      className={trigger.className}
      aria-label={trigger.label}
      aria-haspopup="menu"
      aria-expanded={false}
      onPointerEnter={ask}
      onFocus={ask}
      onPointerDown={(event) => {
        if (event.button === 0 && !event.ctrlKey) open();
      }}
      onClick={open}
      onKeyDown={(event) => {
        if (event.key !== "ArrowDown") return;
        event.preventDefault();
        open();
      }}
    >
      {trigger.children}
    </button>
  );
}
