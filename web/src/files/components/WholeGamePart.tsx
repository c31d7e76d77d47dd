// Back up or share the whole game, and restore games.

import { ArchiveRestore, Download } from "lucide-react";
import { useRef, useState } from "react";
import { ApiError, type Problem } from "../../state/client";
import { useGame } from "../../state/store";
import * as requests from "../api";

export function WholeGamePart() {
  const game = useGame((state) => state.game);
  const picker = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  if (!game) return null;
  const restore = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setTrouble(null);
    const body = new FormData();
    body.append("file", file);
    try {
      const made = await requests.restoreArchive({
        body: body as never,
        bodySerializer: (form: unknown) => form as FormData,
      });
      window.location.assign(`/${made.id}/cards`);
    } catch (error) {
      if (error instanceof ApiError) setTrouble(error.problem);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <h1>Whole game</h1>
      <p className="soft files-about">
        One file with everything in readable JSON, and the pictures as they were brought. Two of them can be compared
        line by line.
      </p>
      <div className="files-formats files-wide">
        <a className="files-format" href={`/api/games/${game.id}/archive`} download>
          <b>
            <Download size={14} aria-hidden="true" /> Backup
          </b>
          <span className="soft">
            Everything: cards, rules, prices, decks, notes, marks, history, playtests, followed tables, pictures.
          </span>
        </a>
        <a className="files-format" href={`/api/games/${game.id}/archive?shared=true`} download>
          <b>
            <Download size={14} aria-hidden="true" /> Shared copy
          </b>
          <span className="soft">
            To give away: without your worths, notes, marks, history, playtests and followed tables.
          </span>
        </a>
        <a className="files-format" href={`/api/games/${game.id}/archive?shared=true&worths=true`} download>
          <b>
            <Download size={14} aria-hidden="true" /> Shared copy with worths
          </b>
          <span className="soft">The same with worths and budgets, but for those marked private.</span>
        </a>
        <button type="button" className="files-format" disabled={busy} onClick={() => picker.current?.click()}>
          <b>
            <ArchiveRestore size={14} aria-hidden="true" /> {busy ? "Reading…" : "Bring a game in…"}
          </b>
          <span className="soft">
            A backup or a shared copy becomes a game beside this one. Nothing is written over.
          </span>
        </button>
      </div>
      <input
        ref={picker}
        type="file"
        className="unseen"
        tabIndex={-1}
        aria-label="Archive of a game"
        accept=".zip,application/zip"
        onChange={(event) => {
          void restore(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      {trouble && (
        <p role="alert" className="trouble">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}
        </p>
      )}
      <h2 className="files-head">From the command line</h2>
      <pre className="layout-text">{`dramok backup game.dramok.zip --game ${game.id}
dramok restore game.dramok.zip --db another.db
dramok export cards.xlsx --game ${game.id}
dramok import cards.xlsx --game ${game.id} --update code`}</pre>
    </>
  );
}
