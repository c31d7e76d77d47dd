// The log of the match; a named card can be opened, and a line shows the table at its moment.
import { Pin } from "lucide-react";
import { Fragment, memo, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Game } from "../../state/client";
import { Hover } from "../../ui/Hover";
import { plain } from "../../ui/searchText";
import type { Playtest } from "../types";
import { useTableNotes } from "./PinnedNotes";

type Props = { table: Playtest; game: Game; at: number | null; lookAt: (at: number | null) => void };

/** A line of the log that only says where the turn is. */
const PHASE = / begins\.$/;

export function LogPane({ table, game, at, lookAt }: Props) {
  const end = useRef<HTMLDivElement>(null);
  const [only, setOnly] = useState("");
  const notes = useTableNotes(table.id);
  const wanted = plain(only.trim());
  const lines = table.log
    .map((line, number) => ({ ...line, number }))
    .filter((line) => !wanted || plain(line.text).includes(wanted));
  // biome-ignore lint/correctness/useExhaustiveDependencies: each new line scrolls into sight
  useEffect(() => {
    const scroller = end.current?.parentElement;
    if (at === null && scroller) scroller.scrollTop = scroller.scrollHeight;
  }, [table.log.length]);
  return (
    <section className="log" aria-label="Log">
      <header>
        <h2>
          Log <span className="soft num">{table.log.length}</span>
        </h2>
        <input
          className="input"
          aria-label="Lines of the log that say"
          placeholder="only lines that say…"
          value={only}
          onChange={(event) => setOnly(event.target.value)}
        />
      </header>
      <div className="log-scroll" role="log" aria-live="polite" tabIndex={0} aria-label="Log of the game">
        {lines.map((line, place) => {
          const step = lines[place - 1]?.decision !== line.decision;
          const pinned =
            lines[place + 1]?.decision === line.decision ? [] : notes.filter((note) => note.moment === line.decision);
          return (
            <Fragment key={line.number}>
              <Line
                text={line.text}
                card={line.card}
                title={line.card ? (table.titles[line.card] ?? "") : ""}
                game={game.id}
                decision={step ? line.decision : -1}
                look={`${line.inner ? "log-inner" : "log-outer"} ${!line.card && PHASE.test(line.text) ? "log-phase" : ""} ${place && step ? "log-step" : ""} ${at !== null && line.decision > at ? "log-later" : ""}`}
                lookAt={lookAt}
              />
              {pinned.map((note) => (
                <p key={note.id} className="log-note">
                  <Pin size={12} aria-label="Note" /> <b>{table.titles[note.card] ?? "A card"}</b>: {note.text}
                </p>
              ))}
            </Fragment>
          );
        })}
        {!lines.length && <p className="soft">No line says that.</p>}
        <div ref={end} />
      </div>
    </section>
  );
}

type LineProps = {
  text: string;
  card: string | null;
  title: string;
  game: string;
  /** The decision that it is the first line of; -1: of none. */
  decision: number;
  look: string;
  lookAt: (at: number | null) => void;
};

/** Kept as it is while others come. */
const Line = memo(function Line({ text, card, title, game, decision, look, lookAt }: LineProps) {
  const from = title ? text.indexOf(title) : -1;
  return (
    <p className={look}>
      {card && from >= 0 ? (
        <>
          {text.slice(0, from)}
          <Hover card={card}>
            <Link to={`/${game}/cards?card=${card}`}>{title}</Link>
          </Hover>
          {text.slice(from + title.length)}
        </>
      ) : (
        text
      )}
      {decision >= 0 && (
        <button
          type="button"
          className="log-at"
          data-at={decision}
          aria-label={`The table at decision ${decision}`}
          title="Show the table at this moment"
          onClick={() => lookAt(decision)}
        />
      )}
    </p>
  );
});
