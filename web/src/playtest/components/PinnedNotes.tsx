// Notes on cards, pinned to a moment of this match.
import { Pin } from "lucide-react";
import { useRef, useState } from "react";
import type { Game, Note, Schemas } from "../../state/client";
import { addNote } from "../../state/history";
import { useGame } from "../../state/store";
import type { Playtest } from "../types";

const NONE: Note[] = [];

/** The notes of a match, in the order of their moments. */
export function useTableNotes(id: string): Note[] {
  const notes = useGame((state) => state.notes);
  return Object.values(notes)
    .flat()
    .filter((note) => note.playtest === id)
    .sort((one, other) => one.moment - other.moment);
}

type Props = { card: Schemas["TableCardOut"]; table: Playtest; game: Game };

export function PinnedNotes({ card, table, game }: Props) {
  const [text, setText] = useState<string | null>(null);
  const notes = useGame((state) => state.notes[card.card]) ?? NONE;
  const title = table.titles[card.card] ?? "";
  /** It is kept once, whatever ends the writing. */
  const keeping = useRef(false);
  const at = table.at >= 0 ? table.at : table.taken;
  const keep = async () => {
    const said = text?.trim();
    if (keeping.current) return;
    setText(null);
    if (!said) return;
    keeping.current = true;
    const done = await addNote(card.card, said, { playtest: table.id, moment: at, turn: table.view.turn });
    keeping.current = false;
    if (!done) setText(said);
  };
  return (
    <div className="pinned">
      {notes
        .filter((note) => note.playtest === table.id)
        .map((note) => (
          <p key={note.id} className="pinned-note">
            <Pin size={12} aria-hidden="true" /> {note.text}{" "}
            <span className="soft">
              {game.turn} {note.turn}
            </span>
          </p>
        ))}
      {text === null ? (
        <button type="button" className="link" onClick={() => setText("")}>
          Note on this card, here
        </button>
      ) : (
        <textarea
          className="input"
          rows={3}
          // biome-ignore lint/a11y/noAutofocus: it was just asked for
          autoFocus
          aria-label={`Note on ${title}, pinned to this moment`}
          placeholder="What this moment showed. Enter keeps it."
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && !event.shiftKey) {
              event.preventDefault();
              void keep();
            }
            if (event.key === "Escape") {
              event.stopPropagation();
              setText(null);
            }
          }}
          onBlur={() => void keep()}
        />
      )}
    </div>
  );
}
