import { lazy, Suspense, useEffect, useState } from "react";
import { Link, Navigate, Route, Routes, useParams } from "react-router";
import { CardsPage } from "../cards/CardsPage";
import { ApiError, type Schemas } from "../state/client";
import { facesOf } from "../state/faces";
import { useAsked, useOnceBack } from "../state/query";
import { fetched } from "../state/retry";
import { usePlaces } from "../state/roomAddresses";
import { useGame } from "../state/store";
import { openGame } from "../state/sync";
import { sendAgain } from "../state/unsaved";
import { OwnFonts } from "../ui/OwnFonts";
import { useUndoKeys } from "../ui/undoKeys";
import * as requests from "./api";
import { KeyMap } from "./components/KeyMap";
import { RippleStrip } from "./components/RippleStrip";
import { SkipLink } from "./components/SkipLink";
import { TopBar } from "./components/TopBar";
import { useKeptFocus } from "./restoreFocus";

const DecksPage = lazy(() => fetched(() => import("../decks/DecksPage")).then((room) => ({ default: room.DecksPage })));
const FacesPage = lazy(() => fetched(() => import("../faces/FacesPage")).then((room) => ({ default: room.FacesPage })));
const RulesPage = lazy(() => fetched(() => import("../rules/RulesPage")).then((room) => ({ default: room.RulesPage })));
const PlaytestPage = lazy(() =>
  fetched(() => import("../playtest/PlaytestPage")).then((room) => ({ default: room.PlaytestPage })),
);
const BalancePage = lazy(() =>
  fetched(() => import("../balance/BalancePage")).then((room) => ({ default: room.BalancePage })),
);
const HistoryPage = lazy(() =>
  fetched(() => import("../history/HistoryPage")).then((room) => ({ default: room.HistoryPage })),
);
const FilesPage = lazy(() => fetched(() => import("../files/FilesPage")).then((room) => ({ default: room.FilesPage })));
const DamagedPage = lazy(() => fetched(() => import("./DamagedPage")).then((room) => ({ default: room.DamagedPage })));
const ShelfPage = lazy(() => fetched(() => import("../shelf/ShelfPage")).then((room) => ({ default: room.ShelfPage })));
const OutputPage = lazy(() =>
  fetched(() => import("../output/OutputPage")).then((room) => ({ default: room.OutputPage })),
);

export function App() {
  const { found: games, trouble, away, again: look } = useAsked(() => requests.games(), []);
  if (!games && trouble) return <Alone title="Dramok can't be opened" text={trouble.detail} />;
  if (!games && away)
    return <Alone title="Dramok can't be reached" text="Start it again; this page then opens by itself." />;
  if (!games) return <Alone title="Opening the game…" text="" />;
  const first = games.find((each) => !each.damage) ?? games[0];
  return (
    <Routes>
      <Route
        path="/shelf"
        element={
          <Suspense fallback={<div className="loading">Opening the shelf…</div>}>
            <ShelfPage changed={look} />
          </Suspense>
        }
      />
      <Route path="/:game/*" element={<Workbench games={games} look={look} />} />
      <Route path="*" element={<Navigate to={first ? `/${first.id}/cards` : "/shelf"} replace />} />
    </Routes>
  );
}

function Alone({ title, text, shelf = false }: { title: string; text: string; shelf?: boolean }) {
  return (
    <main className="alone">
      <h1>{title}</h1>
      <p>{text}</p>
      {shelf && (
        <p>
          <Link to="/shelf">All games</Link>
        </p>
      )}
    </main>
  );
}

function Workbench({ games, look }: { games: Schemas["GameBrief"][]; look: () => void }) {
  const { game: id = "" } = useParams();
  const open = useGame((state) => state.game);
  const [trouble, setTrouble] = useState<{ game: string; text: string } | null>(null);
  const onceBack = useOnceBack();
  const damaged = games.find((each) => each.id === id && each.damage);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what a server away did not open is opened once it is back
  useEffect(() => {
    if (damaged) return;
    let stop: (() => void) | undefined;
    let gone = false;
    facesOf(id);
    openGame(id).then(
      (end) => {
        stop = end;
        if (gone) end();
        else {
          setTrouble(null);
          sendAgain(id);
        }
      },
      (error: unknown) => {
        if (gone) return;
        setTrouble({ game: id, text: error instanceof ApiError ? error.message : String(error) });
        onceBack.lost(error);
      },
    );
    return () => {
      gone = true;
      stop?.();
    };
  }, [id, damaged, onceBack.round]);
  useUndoKeys();
  usePlaces();
  useKeptFocus();
  const gone = useGame((state) => state.gone === id);
  const name = open?.id === id ? open.name : null;
  useEffect(() => {
    document.title = name ? `${name} – Dramok` : "Dramok";
  }, [name]);
  if (gone)
    return (
      <Alone title="This game is gone" text="It was removed for good, or the server has another file open." shelf />
    );
  if (trouble?.game === id) return <Alone title="This game can't be opened" text={trouble.text} shelf />;
  return (
    <div className="bench">
      <SkipLink />
      <OwnFonts />
      <TopBar games={games} />
      <main className="room" tabIndex={-1}>
        {damaged ? (
          <Suspense>
            <DamagedPage game={damaged} mended={look} />
          </Suspense>
        ) : open?.id === id ? (
          <Suspense fallback={<div className="loading">Opening the room…</div>}>
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
          <div className="loading">Opening the game…</div>
        )}
      </main>
      <RippleStrip />
      <KeyMap />
    </div>
  );
}
