// Games that were put away: brought back, backed up, or removed for good after their name was typed.
import { useState } from "react";
import { SheetDialog, SheetFoot } from "../ui/Sheet";
import { many, takeBackup } from "./GameTile";
import type { Shelved, useShelf } from "./useShelf";

type Props = { games: Shelved[]; shelf: ReturnType<typeof useShelf> };

export function PutAway({ games, shelf }: Props) {
  const [removing, setRemoving] = useState<Shelved | null>(null);
  const [name, setName] = useState("");
  if (!games.length) return null;
  const remove = async () => {
    if (removing && (await shelf.remove(removing.id, name)) !== null) setRemoving(null);
  };
  return (
    <section className="away" aria-label="Put away">
      <h2>Put away</h2>
      <ul>
        {games.map((game) => (
          <li key={game.id} className="away-line">
            <b dir="auto">{game.name}</b>
            <span className="soft">{many(game.cards ?? 0, "card")}</span>
            <button type="button" className="small-button" onClick={() => void shelf.putAway(game.id, false)}>
              Bring back
            </button>
            <button
              type="button"
              className="small-button"
              onClick={() => {
                setName("");
                shelf.drop();
                setRemoving(game);
              }}
            >
              Remove for good…
            </button>
          </li>
        ))}
      </ul>
      {removing && (
        <SheetDialog
          open
          setOpen={(open) => !open && setRemoving(null)}
          title={`Remove ${removing.name} for good?`}
          about="Its cards, decks, plans and whole history go, and nothing brings them back. A backup can be restored at any time."
        >
          <div className="form">
            <p>
              <button type="button" className="button" onClick={() => takeBackup(removing.id)}>
                Take a backup first
              </button>
            </p>
            <label>
              Type its name to remove it
              <input
                className="input"
                data-first
                dir="auto"
                value={name}
                placeholder={removing.name}
                onChange={(event) => setName(event.target.value)}
              />
            </label>
          </div>
          {shelf.trouble && (
            <p role="alert" className="trouble">
              <b className="needs">{shelf.trouble.detail}</b> — {shelf.trouble.mend}
            </p>
          )}
          <SheetFoot
            act="Remove for good"
            ready={name.trim().toLowerCase() === removing.name.toLowerCase() && !shelf.busy}
            onAct={() => void remove()}
            cancel={() => setRemoving(null)}
          />
        </SheetDialog>
      )}
    </section>
  );
}
