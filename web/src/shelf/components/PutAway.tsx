// Games that were put away: bring back, back up, or delete after typing the name.
import { useState } from "react";
import { counted } from "../../ui/plural";
import type { Shelved, useShelf } from "../useShelf";
import { takeBackup } from "./GameTile";
import { NameDialog } from "./NameDialog";

type Props = { games: Shelved[]; shelf: ReturnType<typeof useShelf> };

export function PutAway({ games, shelf }: Props) {
  const [removing, setRemoving] = useState<Shelved | null>(null);
  if (!games.length) return null;
  const remove = async (name: string) => {
    if (removing && (await shelf.remove(removing.id, name)) !== null) setRemoving(null);
  };
  return (
    <section className="away" aria-label="Put away">
      <h2>Put away</h2>
      <ul>
        {games.map((game) => (
          <li key={game.id} className="away-line">
            <b dir="auto">{game.name}</b>
            <span className="soft">{counted(game.cards ?? 0, "card")}</span>
            <button type="button" className="small-button" onClick={() => void shelf.putAway(game.id, false)}>
              Bring back
            </button>
            <button
              type="button"
              className="small-button"
              onClick={() => {
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
        <NameDialog
          title={`Remove ${removing.name} for good?`}
          about="Its cards, decks, plans and whole history go, and nothing brings them back. A backup can be restored at any time."
          label="Type its name to remove it"
          act="Remove for good"
          placeholder={removing.name}
          does={(name) => name.trim().toLowerCase() === removing.name.toLowerCase()}
          trouble={shelf.trouble}
          busy={shelf.busy}
          done={(name) => void remove(name)}
          cancel={() => setRemoving(null)}
        >
          <p>
            <button type="button" className="button" onClick={() => takeBackup(removing.id)}>
              Make a backup first
            </button>
          </p>
        </NameDialog>
      )}
    </section>
  );
}
