// The input of a cell in any sheet: reports every key; Enter, Tab or blur commits, Ctrl+Enter fills the selection, Esc cancels.
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import "./cellinput.css";
import { plain } from "./searchText";

export type Way = "down" | "up" | "right" | "left" | "stay" | "all";
export type Leave = (text: string | null, way: Way) => void;
type Props = {
  /** Tells its list of choices from those of other cells. */
  id: string;
  label: string;
  value: string;
  /** The key that opened the cell; it replaces the value. */
  first: string | null;
  choices: string[];
  /** Several choices, with commas between. */
  several?: boolean;
  numeric?: boolean;
  /** Alt with an arrow steps the number by this. */
  step?: number | undefined;
  shows: (text: string) => void;
  leave: Leave;
};

const SHOWN = 12;

export function CellInput({ id, label, value, first, choices, several, numeric, step, shows, leave }: Props) {
  const [text, setText] = useState(first ?? value);
  const [marked, setMarked] = useState(-1);
  const input = useRef<HTMLInputElement>(null);
  const left = useRef(false);
  const already = several ? text.slice(0, text.lastIndexOf(",") + 1) : "";
  const partial = plain(text.slice(already.length).trim());
  const names = useMemo(() => choices.map(plain), [choices]);
  const offered = useMemo(() => {
    const begins = choices.filter((_, place) => names[place]?.startsWith(partial));
    if (begins.length >= SHOWN || !partial) return begins;
    const within = (name = "") => name.includes(partial) && !name.startsWith(partial);
    return [...begins, ...choices.filter((_, place) => within(names[place]))];
  }, [choices, names, partial]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the cell opens
  useLayoutEffect(() => {
    input.current?.focus({ preventScroll: true });
    if (first === null) input.current?.select();
    else shows(first);
  }, []);

  const change = (next: string) => {
    setText(next);
    setMarked(-1);
    shows(next);
  };
  const with_ = (choice: string) => (already ? `${already} ${choice}` : choice);
  /** A choice may be typed by its beginning. */
  const meant = () => {
    if (marked >= 0) return with_(offered[marked] ?? text);
    const exact = choices.find((choice) => choice.toLowerCase() === partial);
    if (exact) return with_(exact);
    return partial && offered[0]?.toLowerCase().startsWith(partial) ? with_(offered[0]) : text;
  };
  const go = (typed: string | null, way: Way) => {
    if (left.current) return;
    left.current = true;
    leave(typed, way);
  };
  const press = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) go(meant(), "all");
    else if (event.key === "Enter") go(meant(), event.shiftKey ? "up" : "down");
    else if (event.key === "Tab") go(meant(), event.shiftKey ? "left" : "right");
    else if (event.key === "Escape") go(null, "stay");
    else if (choices.length && !event.altKey && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
      const next = Math.max(0, Math.min(offered.length - 1, marked + (event.key === "ArrowDown" ? 1 : -1)));
      setMarked(next);
      shows(with_(offered[next] ?? text));
    } else if (step && event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      change(stepped(text, event.key === "ArrowUp" ? step : -step));
    } else return;
    event.preventDefault();
  };
  const listId = `offers-${id}`;
  return (
    <>
      <input
        ref={input}
        className="cell-input"
        value={text}
        dir="auto"
        aria-label={label}
        role={choices.length ? "combobox" : undefined}
        aria-expanded={choices.length ? offered.length > 0 : undefined}
        aria-controls={choices.length ? listId : undefined}
        aria-activedescendant={choices.length && marked >= 0 ? `${listId}-${marked}` : undefined}
        onChange={(event) => change(event.target.value)}
        onKeyDown={press}
        onBlur={() => go(meant(), "stay")}
        inputMode={numeric ? "decimal" : undefined}
      />
      {choices.length > 0 && offered.length > 0 && (
        <Offers
          id={listId}
          input={input}
          offered={offered}
          marked={marked}
          take={(choice) => (several ? change(`${with_(choice)}, `) : go(with_(choice), "stay"))}
        />
      )}
    </>
  );
}

/** A number a step on; what is no number begins at 0. */
export function stepped(text: string, by: number): string {
  const number = Number(text.replace(",", ".") || "0");
  return Number.isFinite(number) ? String(Math.round((number + by) * 10_000) / 10_000) : text;
}

type OffersProps = {
  id: string;
  input: React.RefObject<HTMLInputElement | null>;
  offered: string[];
  marked: number;
  take: (value: string) => void;
};

function Offers({ id, input, offered, marked, take }: OffersProps) {
  const [box, setBox] = useState<{ left: number; top?: number; bottom?: number; width: number } | null>(null);
  useEffect(() => {
    const place = input.current?.getBoundingClientRect();
    if (!place) return;
    const below = place.bottom + 200 < window.innerHeight;
    setBox({
      left: place.left,
      width: Math.max(place.width, 120),
      ...(below ? { top: place.bottom } : { bottom: window.innerHeight - place.top }),
    });
  }, [input]);
  if (!box) return null;
  const from = Math.max(0, Math.min(marked - 4, offered.length - SHOWN));
  return (
    <div id={id} role="listbox" aria-label="Values" className="offers" style={box}>
      {offered.slice(from, from + SHOWN).map((value, number) => (
        <div
          key={value}
          id={`${id}-${from + number}`}
          role="option"
          tabIndex={-1}
          aria-selected={from + number === marked}
          className="offer"
          onMouseDown={(event) => {
            event.preventDefault();
            take(value);
          }}
        >
          {value}
        </div>
      ))}
      {offered.length > SHOWN && <div className="offer-more">{offered.length - SHOWN} more; go on typing</div>}
    </div>
  );
}
