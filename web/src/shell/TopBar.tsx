import { Redo2, Search, Undo2 } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useEffect, useState } from "react";
import { NavLink, useNavigate, useParams } from "react-router";
import type { Schemas } from "../state/client";
import { redoLast, undoLast, useGame } from "../state/game";
import { Find } from "./Find";
import { useRoomAddress } from "./places";
import { ROOMS } from "./rooms";

export function TopBar({ games }: { games: Schemas["GameBrief"][] }) {
  const { game: id = "" } = useParams();
  const { undo, redo } = useGame();
  const ripples = useGame((state) => state.ripples.length);
  const [finding, setFinding] = useState(false);
  const navigate = useNavigate();
  // The address is looked up when it is followed: rooms write their place down as they are left.
  const addressOf = useRoomAddress();
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        setFinding(true);
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  const name = games.find((game) => game.id === id)?.name ?? id;
  return (
    <header className="topbar">
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="game-switch" aria-label={`Game: ${name}`}>
          {name} <span aria-hidden="true">▾</span>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className="menu" align="start" sideOffset={4}>
            <DropdownMenu.Label className="menu-label">Games in this database</DropdownMenu.Label>
            {games.map((game) => (
              <DropdownMenu.Item key={game.id} className="menu-item" onSelect={() => navigate(`/${game.id}/cards`)}>
                <b>{game.name}</b>{" "}
                {game.damage ? (
                  <span className="needs">damaged</span>
                ) : (
                  <span className="soft">{game.cards} cards</span>
                )}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <nav aria-label="Rooms" className="dividers">
        {ROOMS.map(([path, label]) => (
          <NavLink key={path} to={addressOf(path)} className="divider">
            {label}
          </NavLink>
        ))}
      </nav>
      <div className="topbar-end">
        <button type="button" className="find-button" onClick={() => setFinding(true)}>
          <Search size={15} aria-hidden="true" /> Find anything <kbd>Ctrl K</kbd>
        </button>
        <button
          type="button"
          className="icon-button"
          disabled={!undo}
          onClick={() => void undoLast()}
          title={undo ? `Undo: ${undo}` : "Nothing to undo"}
          aria-label={undo ? `Undo: ${undo}` : "Undo"}
        >
          <Undo2 size={17} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="icon-button"
          disabled={!redo}
          onClick={() => void redoLast()}
          title={redo ? `Redo: ${redo}` : "Nothing to redo"}
          aria-label={redo ? `Redo: ${redo}` : "Redo"}
        >
          <Redo2 size={17} aria-hidden="true" />
        </button>
        <span className="ripple-count" title={`${ripples} edits from this page since it was opened`}>
          {ripples}
        </span>
      </div>
      <Find open={finding} setOpen={setFinding} />
    </header>
  );
}
