import { Keyboard, Redo2, Search, Undo2 } from "lucide-react";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { NavLink, useLocation, useParams } from "react-router";
import { useGo } from "../../state/address";
import type { Schemas } from "../../state/client";
import { redoLast, undoLast } from "../../state/edits";
import { fetched } from "../../state/retry";
import { useRoomAddress } from "../../state/roomAddresses";
import { useGame } from "../../state/store";
import { fetchMenus, Menu } from "../../ui/Menu";
import { counted } from "../../ui/plural";
import { useWindowKeys } from "../../ui/windowKeys";
import { ROOMS } from "../rooms";
import { DrawerButton } from "./Drawer";

/** The side panes of the rooms: drawers in a small window. */
const PANES: Record<string, string> = {
  cards: "Card",
  decks: "Deck",
  balance: "Outliers",
  playtest: "Log",
  faces: "Placement",
};

const finder = () => fetched(() => import("./FindDialog"));
const FindDialog = lazy(() => finder().then((room) => ({ default: room.FindDialog })));

export function TopBar({ games }: { games: Schemas["GameBrief"][] }) {
  const { game: id = "" } = useParams();
  const undo = useGame((state) => state.undo);
  const redo = useGame((state) => state.redo);
  const [finding, setFinding] = useState(false);
  /** What is typed after Ctrl+K while the finder is still on its way. */
  const early = useRef("");
  useEffect(() => {
    // Once the first look is there; the finder itself is no part of it.
    const timer = setTimeout(() => {
      void finder();
      fetchMenus();
    }, 1_200);
    return () => clearTimeout(timer);
  }, []);
  useEffect(() => {
    if (!finding) early.current = "";
  }, [finding]);
  const hear = (event: KeyboardEvent) => {
    const there = document.querySelector(".find-input");
    if (there || event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
    early.current += event.key;
    event.preventDefault();
    event.stopPropagation();
  };
  useWindowKeys(finding ? hear : null, true);
  const go = useGo();
  // The address is looked up when it is followed: rooms write their place down as they are left.
  const addressOf = useRoomAddress();
  useWindowKeys((event) => {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "k") return;
    event.preventDefault();
    setFinding(true);
  });
  const open = useGame((state) => (state.game?.id === id ? state.game.name : null));
  const name = open ?? games.find((game) => game.id === id)?.name ?? id;
  const { pathname, search } = useLocation();
  const room = pathname.split("/")[2] ?? "cards";
  const atTable = room === "playtest" && search.includes("table=");
  // Before a match is begun there is no log.
  const pane = room === "playtest" && !atTable ? undefined : PANES[room];
  const here = ROOMS.find(([path]) => path === room)?.[1] ?? "Rooms";
  return (
    <header className="topbar">
      <Menu
        trigger={{
          className: "game-switch",
          label: `Game: ${name}`,
          children: (
            <>
              {name} <span aria-hidden="true">▾</span>
            </>
          ),
        }}
        items={[
          { id: "heading", heading: "Games in this database" },
          ...games.map((game) => ({
            id: game.id,
            act: () => go(`/${game.id}/cards`),
            shown: (
              <>
                <b>{game.name}</b>{" "}
                {game.damage ? (
                  <span className="needs">damaged</span>
                ) : (
                  <span className="soft">{counted(game.cards, "card")}</span>
                )}
              </>
            ),
          })),
          { id: "line", line: true },
          { id: "shelf", shown: "All games, new game…", act: () => go("/shelf") },
        ]}
      />
      <nav aria-label="Rooms" className="dividers">
        {ROOMS.map(([path, label]) => (
          <NavLink key={path} to={addressOf(path)} className="divider">
            {label}
          </NavLink>
        ))}
      </nav>
      <Menu
        trigger={{
          className: "button rooms-menu",
          label: `Room: ${here}`,
          children: (
            <>
              {here} <span aria-hidden="true">▾</span>
            </>
          ),
        }}
        items={ROOMS.map(([path, label]) => ({
          id: path,
          shown: label,
          act: () => go(addressOf(path)),
        }))}
      />
      <div className="topbar-end">
        {pane && <DrawerButton label={pane} room={room} />}
        <button type="button" className="find-button" onClick={() => setFinding(true)}>
          <Search size={15} aria-hidden="true" /> <span className="find-words">Find anything</span> <kbd>Ctrl K</kbd>
        </button>
        {/* The table has an undo of its own, and only that one. */}
        {!atTable && (
          <>
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
          </>
        )}
        <button
          type="button"
          className="icon-button keys-button"
          title="All keys (?)"
          aria-label="All keys"
          onClick={() => window.dispatchEvent(new Event("dramok-keys"))}
        >
          <Keyboard size={17} aria-hidden="true" />
        </button>
      </div>
      {finding && (
        <Suspense>
          <FindDialog open setOpen={setFinding} first={early} />
        </Suspense>
      )}
    </header>
  );
}
