// One game on the shelf: a link into it, and a menu.
import { useState } from "react";
import { Link } from "react-router";
import { Menu } from "../../ui/Menu";
import { counted } from "../../ui/plural";
import { recently } from "../../ui/when";
import type { Shelved, useShelf } from "../useShelf";
import { CardFan } from "./CardFan";
import { NameDialog } from "./NameDialog";

type Props = { game: Shelved; shelf: ReturnType<typeof useShelf> };

export function GameTile({ game, shelf }: Props) {
  const [naming, setNaming] = useState(false);
  const counts = `${counted(game.cards, "card")}, ${counted(game.decks, "deck")}`;
  const rename = async (name: string) => {
    if (name.trim() === game.name || (await shelf.rename(game.id, name))) setNaming(false);
  };
  return (
    <li className="tile">
      <Link className="tile-open" to={`/${game.id}/cards`} tabIndex={-1} aria-hidden="true">
        {game.damage ? (
          <span className="fan fan-damaged">damaged</span>
        ) : (
          <CardFan game={game.id} edited={game.edited ?? ""} />
        )}
      </Link>
      <div className="tile-facts">
        <Link className="tile-name" to={`/${game.id}/cards`} dir="auto" title={game.name}>
          {game.name}
        </Link>
        <Menu
          trigger={{ className: "icon-button tile-menu", label: `More for ${game.name}`, children: "⋯" }}
          items={[
            {
              id: "rename",
              shown: "Rename…",
              act: () => {
                shelf.drop();
                setNaming(true);
              },
            },
            { id: "copy", shown: "Duplicate", act: () => void shelf.copy(game.id, true) },
            { id: "rules", shown: "Duplicate its rules and plans only", act: () => void shelf.copy(game.id, false) },
            { id: "backup", shown: "Back up", act: () => takeBackup(game.id) },
            { id: "line", line: true },
            { id: "away", shown: "Put away", act: () => void shelf.putAway(game.id, true) },
          ]}
        />
        <span className="soft tile-counts">{game.damage ? game.damage.what : counts}</span>
        <span className="soft tile-when">{game.edited ? `edited ${recently(game.edited)}` : ""}</span>
      </div>
      {naming && (
        <NameDialog
          title={`Rename ${game.name}`}
          label="Name"
          act="Rename"
          value={game.name}
          trouble={shelf.trouble}
          busy={shelf.busy}
          done={(name) => void rename(name)}
          cancel={() => setNaming(false)}
        />
      )}
    </li>
  );
}

/** The browser takes the file itself: nothing of the page waits for it. */
export function takeBackup(game: string): void {
  const link = document.createElement("a");
  link.href = `/api/games/${game}/archive`;
  link.download = "";
  link.click();
}
