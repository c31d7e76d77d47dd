// The shelf: every game, and new games. The first screen if there is none.
import { useEffect, useState } from "react";
import { useKeptFocus } from "../shell/restoreFocus";
import { useGo, useStillHere } from "../state/address";
import { GameFromSheet } from "./components/GameFromSheet";
import { GameTile } from "./components/GameTile";
import { NewGame } from "./components/NewGame";
import { PutAway } from "./components/PutAway";
import { type Shelved, useShelf } from "./useShelf";
import "./shelf.css";

/** `changed`: the games are to be asked for anew. */
export function ShelfPage({ changed }: { changed: () => void }) {
  const shelf = useShelf();
  useKeptFocus();
  const go = useGo();
  const stillHere = useStillHere();
  const [file, setFile] = useState<File | null>(null);
  const held = shelf.shelf;
  const games = held?.games.filter((each) => !each.away) ?? [];
  const away = held?.games.filter((each) => each.away) ?? [];
  useEffect(() => {
    document.title = "Games – Dramok";
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: whenever the shelf says something else
  useEffect(() => changed(), [held]);
  const begun = (game: Shelved) => {
    changed();
    if (stillHere()) go(`/${game.id}/cards`, { state: { stand: true } });
  };
  return (
    <div className="shelf">
      <header className="shelf-bar">
        <span className="shelf-mark">Dramok</span>
        <span className="soft">a workbench for card games</span>
      </header>
      <main className={`shelf-body ${games.length ? "" : "shelf-empty"}`}>
        {file ? (
          <>
            <h1>{file.name}</h1>
            <GameFromSheet file={file} begun={begun} cancel={() => setFile(null)} />
          </>
        ) : (
          <>
            {games.length > 0 && (
              <section className="shelf-games" aria-label="Games">
                <h1>Games</h1>
                <ul className="tiles">
                  {games.map((game) => (
                    <GameTile key={game.id} game={game} shelf={shelf} />
                  ))}
                </ul>
                <PutAway games={away} shelf={shelf} />
              </section>
            )}
            <div className="shelf-begin">
              {held && games.length === 0 && (
                <div className="shelf-hello">
                  <h1>A game of your own</h1>
                  <p>
                    Import a table file, or start from a template. Cards, faces, prices, decks and printed pages follow
                    from it.
                  </p>
                </div>
              )}
              <NewGame shelf={shelf} chosen={setFile} begun={begun} />
              {games.length === 0 && <PutAway games={away} shelf={shelf} />}
            </div>
          </>
        )}
      </main>
    </div>
  );
}
