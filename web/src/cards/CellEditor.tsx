// Typing in a cell: every key is a preview, Enter, Tab or leaving commits, Esc gives up.
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Card, Game } from "../state/client";
import type { Typed } from "../state/sheet";
import { type Column, cellText } from "./columns";

export type Leave = (text: string | null, way: "down" | "up" | "right" | "left" | "stay") => void;
type Props = {
  game: Game;
  card: Card;
  column: Column;
  first: string | null;
  kept: string | undefined;
  leave: Leave;
  preview: (typed: Typed) => void;
};

export function CellEditor({ game, card, column, first, kept, leave, preview }: Props) {
  const [text, setText] = useState(first ?? kept ?? cellText(game, card, column));
  const [marked, setMarked] = useState(-1);
  const input = useRef<HTMLInputElement>(null);
  const left = useRef(false);
  const choices = useMemo(() => choicesOf(game, column), [game, column]);
  const offered = choices.filter((choice) => choice.toLowerCase().startsWith(text.trim().toLowerCase()));

  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the cell opens
  useLayoutEffect(() => {
    input.current?.focus();
    if (first === null) input.current?.select();
    else if (column.kind !== "code") preview({ card: card.id, field: column.id, text: first });
  }, []);

  const change = (next: string) => {
    setText(next);
    setMarked(-1);
    if (column.kind !== "code") preview({ card: card.id, field: column.id, text: next });
  };
  /** A choice may be typed by its beginning. */
  const meant = () =>
    marked >= 0 ? (offered[marked] ?? text) : choices.length && text.trim() && offered[0] ? offered[0] : text;
  const go = (value: string | null, way: Parameters<Leave>[1]) => {
    if (left.current) return;
    left.current = true;
    leave(value, way);
  };
  const press = (event: React.KeyboardEvent) => {
    event.stopPropagation();
    if (event.key === "Enter") go(meant(), event.shiftKey ? "up" : "down");
    else if (event.key === "Tab") go(meant(), event.shiftKey ? "left" : "right");
    else if (event.key === "Escape") go(null, "stay");
    else if (choices.length && (event.key === "ArrowDown" || event.key === "ArrowUp")) {
      const next = Math.max(0, Math.min(offered.length - 1, marked + (event.key === "ArrowDown" ? 1 : -1)));
      setMarked(next);
      preview({ card: card.id, field: column.id, text: offered[next] ?? text });
    } else if (column.kind === "number" && event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      change(String((Number.parseInt(text, 10) || 0) + (event.key === "ArrowUp" ? 1 : -1)));
    } else return;
    event.preventDefault();
  };
  const listId = `offers-${column.id}`;
  return (
    <>
      <input
        ref={input}
        className="cell-input"
        value={text}
        aria-label={`${column.name} of ${card.title}`}
        role={choices.length ? "combobox" : undefined}
        aria-expanded={choices.length ? offered.length > 0 : undefined}
        aria-controls={choices.length ? listId : undefined}
        aria-activedescendant={choices.length && marked >= 0 ? `${listId}-${marked}` : undefined}
        onChange={(event) => change(event.target.value)}
        onKeyDown={press}
        onBlur={() => go(meant(), "stay")}
        inputMode={column.kind === "number" ? "numeric" : undefined}
      />
      {choices.length > 0 && offered.length > 0 && (
        <Offers id={listId} input={input} offered={offered} marked={marked} take={(value) => go(value, "stay")} />
      )}
    </>
  );
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
  return (
    <div id={id} role="listbox" aria-label="Values" className="offers" style={box}>
      {offered.slice(0, 12).map((value, number) => (
        <div
          key={value}
          id={`${id}-${number}`}
          role="option"
          tabIndex={-1}
          aria-selected={number === marked}
          className="offer"
          onMouseDown={(event) => {
            event.preventDefault();
            take(value);
          }}
        >
          {value}
        </div>
      ))}
    </div>
  );
}

function choicesOf(game: Game, column: Column): string[] {
  if (column.field?.kind !== "choice") return [];
  const list = column.field.list;
  return game.lists.find((each) => each.id === list)?.values.map((value) => value.name) ?? [];
}
