// The summary of a finished match.
import { Link } from "react-router";
import type { Game } from "../../state/client";
import type { Playtest } from "../types";
import { ending } from "./Decision";

export function Summary({ table, game }: { table: Playtest; game: Game }) {
  const named = (ids: string[]) =>
    ids.map((id, place) => (
      <span key={id}>
        {place > 0 && ", "}
        <Link to={`/${game.id}/cards?card=${id}`}>{table.titles[id] ?? id}</Link>
      </span>
    ));
  return (
    <section className="reading match-summary" aria-label="How it went">
      <h2>{ending(table)}</h2>
      <p>
        {table.view.turn} {table.view.turn === 1 ? game.turn : `${game.turn}s`}, {table.taken} decisions, seed{" "}
        {table.seed}.
      </p>
      {table.unplayed.length > 0 && <p>Drawn and never played: {named(table.unplayed)}.</p>}
      {table.sat.length > 0 && <p>In hand at the end: {named(table.sat)}.</p>}
      {table.notes.length > 0 && (
        <details>
          <summary>What did not play by itself</summary>
          {table.notes.map((note) => (
            <p key={note} className="soft">
              {note}
            </p>
          ))}
        </details>
      )}
    </section>
  );
}
