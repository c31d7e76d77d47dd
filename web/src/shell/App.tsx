import { lazy, Suspense, useEffect, useState } from "react";
import { Navigate, Route, Routes, useParams } from "react-router";
import { CardsPage } from "../cards/CardsPage";
import { ApiError, api, ask, type Schemas } from "../state/client";
import { facesOf } from "../state/faces";
import { openGame, redoLast, undoLast, useGame } from "../state/game";
import { KeyMap } from "./KeyMap";
import { RippleStrip } from "./RippleStrip";
import { TopBar } from "./TopBar";

const DecksPage = lazy(() => import("../decks/DecksPage").then((room) => ({ default: room.DecksPage })));
const FacesPage = lazy(() => import("../faces/FacesPage").then((room) => ({ default: room.FacesPage })));
const RulesPage = lazy(() => import("../rules/RulesPage").then((room) => ({ default: room.RulesPage })));
const PlaytestPage = lazy(() => import("../playtest/PlaytestPage").then((room) => ({ default: room.PlaytestPage })));
const BalancePage = lazy(() => import("../balance/BalancePage").then((room) => ({ default: room.BalancePage })));
const HistoryPage = lazy(() => import("../history/HistoryPage").then((room) => ({ default: room.HistoryPage })));
const FilesPage = lazy(() => import("../files/FilesPage").then((room) => ({ default: room.FilesPage })));
const OutputPage = lazy(() => import("../output/OutputPage").then((room) => ({ default: room.OutputPage })));

export function App() {
  const [games, setGames] = useState<Schemas["GameBrief"][] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    ask(api.GET("/api/games")).then(setGames, (error: unknown) =>
      setTrouble(error instanceof ApiError ? error.message : String(error)),
    );
  }, []);
  if (trouble)
    return <Alone title="Dramok can't be reached" text={`${trouble}. Start it again, then reload this page.`} />;
  if (!games) return <Alone title="Opening the box…" text="" />;
  const first = games[0];
  if (!first) return <Alone title="No game yet" text="Start with `dramok demo`, which brings the demo game." />;
  return (
    <Routes>
      <Route path="/:game/*" element={<Workbench games={games} />} />
      <Route path="*" element={<Navigate to={`/${first.id}/cards`} replace />} />
    </Routes>
  );
}

function Alone({ title, text }: { title: string; text: string }) {
  return (
    <main className="alone">
      <h1>{title}</h1>
      <p>{text}</p>
    </main>
  );
}

function Workbench({ games }: { games: Schemas["GameBrief"][] }) {
  const { game: id = "" } = useParams();
  const open = useGame((state) => state.game);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    let stop: (() => void) | undefined;
    let gone = false;
    facesOf(id);
    openGame(id).then(
      (end) => {
        stop = end;
        if (gone) end();
      },
      (error: unknown) => setTrouble(error instanceof ApiError ? error.message : String(error)),
    );
    return () => {
      gone = true;
      stop?.();
    };
  }, [id]);
  useUndoKeys();
  if (trouble) return <Alone title="This game can't be opened" text={trouble} />;
  return (
    <div className="bench">
      <TopBar games={games} />
      <main className="room">
        {open?.id === id ? (
          <Suspense fallback={<div className="loading">Setting the table…</div>}>
            <Routes>
              <Route path="cards" element={<CardsPage />} />
              <Route path="faces" element={<FacesPage />} />
              <Route path="rules" element={<RulesPage />} />
              <Route path="decks" element={<DecksPage />} />
              <Route path="playtest" element={<PlaytestPage />} />
              <Route path="balance" element={<BalancePage />} />
              <Route path="output" element={<OutputPage />} />
              <Route path="files" element={<FilesPage />} />
              <Route path="history" element={<HistoryPage />} />
              <Route path="*" element={<Navigate to={`/${id}/cards`} replace />} />
            </Routes>
          </Suspense>
        ) : (
          <div className="loading">Opening the box…</div>
        )}
      </main>
      <RippleStrip />
      <KeyMap />
    </div>
  );
}

/** Ctrl+Z and Ctrl+Y everywhere, save in a text that is being typed, and at the table, which has an undo of its own. */
function useUndoKeys() {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey || event.defaultPrevented) return;
      const target = event.target as HTMLElement;
      if (target.closest("input:not([type=checkbox]), textarea, [contenteditable=true], [data-own-undo]")) return;
      const key = event.key.toLowerCase();
      if (key === "z" || key === "y") {
        event.preventDefault();
        void (key === "y" || event.shiftKey ? redoLast() : undoLast());
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}
