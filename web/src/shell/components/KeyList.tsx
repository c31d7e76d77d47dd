// The list of all keys.
import { SheetDialog } from "../../ui/Sheet";

const KEYS: { room: string; keys: [string, string][] }[] = [
  {
    room: "Everywhere",
    keys: [
      ["Ctrl K", "find a card, a deck, a room"],
      ["Ctrl Z · Ctrl Y", "undo · redo"],
      ["?", "this list"],
    ],
  },
  {
    room: "Grid, worths, phrases",
    keys: [
      ["arrows · Tab", "move between cells"],
      ["Home · End", "first · last field; with Ctrl first · last card"],
      ["Shift with these", "selects a range; Ctrl A selects all, Shift Space whole rows"],
      ["typing · Enter · F2", "replaces the cell's text · edits it"],
      ["Enter · Shift Enter", "saves and goes down · up; Tab goes right"],
      ["Ctrl Enter", "fills the whole selection"],
      ["Esc", "cancels typing; clears the selection"],
      ["Ctrl C · Ctrl X · Ctrl V", "copy · cut · paste, also from spreadsheets"],
      ["Ctrl D", "fills down from the first row, or from the row above"],
      ["Alt ↑ · Alt ↓", "raises · lowers numbers"],
      ["Delete", "empties"],
      ["Space", "toggles yes/no"],
      ["Ctrl Delete", "removes the worth one is on"],
    ],
  },
  {
    room: "Query, texts, wall",
    keys: [
      ["Ctrl F · /", "to the query line"],
      ["Ctrl H", "find and replace, with a preview"],
      ["Tab · Enter", "accepts a suggestion · adds the condition"],
      ["Ctrl B · Ctrl I", "bold · italic in a text"],
      ["Ctrl Enter", "saves and closes the text"],
      ["Alt with an arrow", "moves a card on the wall"],
    ],
  },
  {
    room: "The table",
    keys: [
      ["Enter · Delete", "does the most likely action with the focused card · discards it"],
      ["arrows", "walk the cards on the table"],
      ["N", "goes on: ends the phase, is done with picking, watches a step"],
      ["U or Ctrl Z · Esc", "undoes the last move · cancels what is not paid yet, or a drag"],
      ["B · F", "the moment before · after"],
      ["D", "draws, where that is done by hand"],
    ],
  },
  {
    room: "Deck, map",
    keys: [
      ["+ · -", "adds · removes the card in the deck"],
      ["a letter or a number", "in Decks: puts in a card by its name, as 3 lar; -1 lar removes one"],
      ["← · → or Page Up · Page Down", "eight opening hands before · the next eight"],
      ["arrows", "move between the cards of the set map"],
    ],
  },
];

/** Every key, in a dialog. */
export function KeyList({ close }: { close: () => void }) {
  return (
    <SheetDialog open setOpen={(open) => !open && close()} title="Keys" className="keys-sheet">
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
