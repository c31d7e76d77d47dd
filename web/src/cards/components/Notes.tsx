// The notes on a card.
import { useState } from "react";
import { Link } from "react-router";
import type { Card, Note } from "../../state/client";
import { addNote, editNote, takeNoteOut } from "../../state/history";
import { useGame } from "../../state/store";
import { sendTyped } from "../../ui/NewNameInput";
import { shortly } from "../../ui/when";

type Props = { card: Card; leave: () => void };

export function Notes({ card, leave }: Props) {
  const notes = useGame((state) => state.notes[card.id]) ?? [];
  const [text, setText] = useState("");
  const open = notes.filter((note) => note.state === "open").length;
  const add = () => {
    if (text.trim()) sendTyped(text, setText, (said) => addNote(card.id, said));
  };
  return (
    <section className="pane-part notes" aria-label="Notes">
      <h3>Notes {open > 0 && <span className="chip-count chip-needs">{open} open</span>}</h3>
      {notes.map((note) => (
        <OneNote key={note.id} note={note} />
      ))}
      <textarea
        id="new-note"
        className="input note-new"
        rows={1}
        value={text}
        placeholder="Note something: a doubt, what a playtest showed…"
        aria-label={`New note on ${card.title}`}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter" && !event.shiftKey) {
            event.preventDefault();
            add();
          }
          if (event.key === "Escape") leave();
        }}
        onBlur={add}
      />
    </section>
  );
}

function OneNote({ note }: { note: Note }) {
  const [answer, setAnswer] = useState(note.answer);
  const [text, setText] = useState<string | null>(null);
  const answered = note.state === "answered";
  const game = useGame((state) => state.game?.id);
  const turn = useGame((state) => state.game?.turn);
  const keep = (close: boolean) => {
    if (answer.trim() === note.answer && !close) return;
    void editNote(note.id, { answer, ...(close ? { answered: true } : {}) });
  };
  return (
    <article className={answered ? "note note-answered" : "note"}>
      {text === null ? (
        <button type="button" className="note-text" title="Change this note" onClick={() => setText(note.text)}>
          {note.text}
        </button>
      ) : (
        <textarea
          className="input"
          // biome-ignore lint/a11y/noAutofocus: it was just asked for
          autoFocus
          aria-label="Note"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onBlur={() => {
            if (text.trim() && text.trim() !== note.text) void editNote(note.id, { text });
            setText(null);
          }}
        />
      )}
      {answered && note.answer && <p className="note-answer">{note.answer}</p>}
      {!answered && (
        <input
          className="input"
          aria-label={`Answer to: ${note.text.slice(0, 60)}`}
          placeholder="Answer, then Enter"
          value={answer}
          onChange={(event) => setAnswer(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && keep(true)}
          onBlur={() => keep(false)}
        />
      )}
      <footer>
        <span className="soft">{shortly(note.at)}</span>
        {note.playtest && (
          <Link className="link" to={`/${game}/playtest?table=${note.playtest}&at=${note.moment}`}>
            At the table, {turn} {note.turn}
          </Link>
        )}
        {answered ? (
          <button type="button" className="link" onClick={() => void editNote(note.id, { answered: false })}>
            Open again
          </button>
        ) : (
          <button type="button" className="link" onClick={() => keep(true)}>
            Answered
          </button>
        )}
        <button type="button" className="link" onClick={() => void takeNoteOut(note.id)}>
          Remove
        </button>
      </footer>
    </article>
  );
}
