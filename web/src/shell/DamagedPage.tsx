// A damaged game: the reason, its backup, and the repair.

import { Download, History } from "lucide-react";
import { useState } from "react";
import { ApiError, type Schemas } from "../state/client";
import { useAsked } from "../state/query";
import { hourOf, shortly } from "../ui/when";
import * as requests from "./api";

type Props = { game: Schemas["GameBrief"]; mended: () => void };

export function DamagedPage({ game, mended }: Props) {
  const path = { params: { path: { game_id: game.id } } };
  const { found, trouble } = useAsked(() => requests.damage(path), [game.id]);
  const [refused, setRefused] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const walkBack = async (to: number) => {
    setBusy(true);
    try {
      await requests.walkBack({ ...path, body: { to } });
      mended();
    } catch (error) {
      setRefused(error instanceof ApiError ? `${error.problem.detail}: ${error.problem.mend}` : String(error));
      setBusy(false);
    }
  };
  const sound = found?.sound;
  return (
    <section className="damaged" aria-label={`${game.name} is damaged`}>
      <h1 className="rules-title">{game.name} is damaged</h1>
      <p className="needs">{game.damage?.what}</p>
      <p className="soft">Your other games are not touched by it; they are in the list at the upper left.</p>
      {trouble && <p role="alert">{trouble.detail}</p>}
      {!found && !trouble && <p className="soft">Looking for its last sound moment…</p>}
      {found && (
        <>
          <ol className="damaged-steps">
            <li>
              <h2>Take its backup</h2>
              <p>Everything as it stands, and the game as it was when it was last sound.</p>
              <a className="button" href={`/api/games/${game.id}/rescue`} download>
                <Download size={15} aria-hidden="true" /> Take the backup
              </a>
            </li>
            <li>
              <h2>Walk it back</h2>
              {sound ? (
                <>
                  <p>
                    {found.steps
                      ? `It was last sound after “${sound.label}”, ${shortly(sound.at)}. ${found.steps === 1 ? "The edit since then is taken back, and stays" : `The ${found.steps} edits since then are taken back, and stay`} in its journal.`
                      : `${found.rebuilt.length === 1 ? "One document is" : `${found.rebuilt.length} documents are`} rebuilt from the journal, as of ${hourOf(sound.at)}. No edit is lost.`}
                  </p>
                  <button
                    type="button"
                    className="button button-main"
                    disabled={busy}
                    onClick={() => void walkBack(sound.seq)}
                  >
                    <History size={15} aria-hidden="true" /> Walk it back
                  </button>
                </>
              ) : (
                <p>No sound moment is known. Restore an earlier backup in Files of another game.</p>
              )}
              {refused && <p role="alert">{refused}</p>}
            </li>
          </ol>
          <h2>
            What is wrong <span className="chip-count">{found.faults.length}</span>
          </h2>
          <ul className="damaged-faults">
            {found.faults.slice(0, 50).map((fault) => (
              <li key={`${fault.entity} ${fault.id} ${fault.problem.what}`}>
                <b>{fault.problem.where}</b> {fault.problem.what}
              </li>
            ))}
            {found.faults.length > 50 && <li className="soft">and {found.faults.length - 50} more</li>}
          </ul>
        </>
      )}
    </section>
  );
}
