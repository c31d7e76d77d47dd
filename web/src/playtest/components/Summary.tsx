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
      {table.scores.length > 0 && <ScoreSheet table={table} />}
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

/** The score sheet: a line for each amount, a column for each seat. */
function ScoreSheet({ table }: { table: Playtest }) {
  const lines = Object.keys(table.scores[0] ?? {});
  const totals = table.scores.map((sheet) => Object.values(sheet).reduce((sum, each) => sum + each, 0));
  const best = table.view.winner;
  const name = (seat: number) =>
    table.players[seat] === "person" && seat === table.seat
      ? "You"
      : table.scores.length > 1
        ? `Seat ${seat + 1}`
        : "Score";
  return (
    <table className="score-sheet" aria-label="Score sheet">
      <thead>
        <tr>
          <th scope="col">
            <span className="unseen">Line</span>
          </th>
          {table.scores.map((_, seat) => (
            <th key={seat} scope="col" className={seat === best ? "score-best" : ""}>
              {name(seat)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line}>
            <th scope="row">{line}</th>
            {table.scores.map((sheet, seat) => (
              <td key={seat} className={`num ${seat === best ? "score-best" : ""}`}>
                {sheet[line]}
              </td>
            ))}
          </tr>
        ))}
        <tr>
          <th scope="row">Total</th>
          {totals.map((total, seat) => (
            <td key={seat} className={`num ${seat === best ? "score-best" : ""}`}>
              {total}
            </td>
          ))}
        </tr>
      </tbody>
    </table>
  );
}
