// Every key, in one place: the ? key opens it.
import { useEffect, useState } from "react";
import { SheetDialog } from "../ui/Sheet";

const KEYS: { room: string; keys: [string, string][] }[] = [
  {
    room: "Everywhere",
    keys: [
      ["Ctrl K", "find a card, a deck, a workspace"],
      ["Ctrl Z · Ctrl Y", "undo · redo"],
      ["?", "this list"],
    ],
  },
  {
    room: "Grid",
    keys: [
      ["arrows · Tab", "walk the cells; down stays in the field"],
      ["Home · End", "first · last field; with Ctrl first · last card"],
      ["Shift with these", "draws a range; Ctrl A takes all, Shift Space whole rows"],
      ["typing · Enter · F2", "replaces the cell · opens it"],
      ["Enter · Shift Enter", "writes and goes down · up; Tab goes right"],
      ["Ctrl Enter", "writes to all of the range"],
      ["Esc", "gives up what is typed; lets the range go"],
      ["Ctrl C · Ctrl X · Ctrl V", "copy · cut · paste, also from spreadsheets"],
      ["Ctrl D", "fills down from the first row, or the row above"],
      ["Alt ↑ · Alt ↓", "steps numbers"],
      ["Delete", "empties"],
      ["Space", "turns a yes or no"],
    ],
  },
  {
    room: "Query, texts, wall",
    keys: [
      ["Ctrl F · /", "to the query line"],
      ["Ctrl H", "find and replace, seen before it is written"],
      ["Tab · Enter", "takes what is offered · makes a chip"],
      ["Ctrl B · Ctrl I", "bold · italic in a text"],
      ["Ctrl Enter", "leaves a text or an effect, written"],
      ["Alt with an arrow", "carries a card of the wall to the next place"],
    ],
  },
  {
    room: "Deck, table, map",
    keys: [
      ["+ · -", "puts the card in · takes it out of the deck"],
      ["Enter · Delete", "plays · discards the card one stands on"],
      ["D · E · U", "draws · ends the day · takes a decision back"],
      ["arrows", "walk the marks of the set map"],
    ],
  },
];

export function KeyMap() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.key !== "?" || target.closest("input, textarea, select, [contenteditable=true], [role=dialog]")) return;
      event.preventDefault();
      event.stopPropagation();
      setOpen(true);
    };
    window.addEventListener("keydown", press, true);
    return () => window.removeEventListener("keydown", press, true);
  }, []);
  return (
    <SheetDialog open={open} setOpen={setOpen} title="Keys" className="keys-sheet">
      <div className="keys">
        {KEYS.map(({ room, keys }) => (
          <section key={room} aria-label={room}>
            <h3>{room}</h3>
            <dl>
              {keys.map(([key, does]) => (
                <div key={key}>
                  <dt>{key}</dt>
                  <dd>{does}</dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </div>
    </SheetDialog>
  );
}
