// The rules of play, part by part, with the rules text next to them and the checks below.

import { Play } from "lucide-react";
import { useState } from "react";
import { newTable } from "../../playtest/startMatch";
import { useGo, useStillHere } from "../../state/address";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import * as requests from "../api";
import { useParts } from "../useParts";
import { ActionsEditor } from "./components/ActionsEditor";
import { AfterPlayEditor } from "./components/AfterPlayEditor";
import { ClashEditor } from "./components/ClashEditor";
import { GoalsEditor } from "./components/GoalsEditor";
import { MarketEditor } from "./components/MarketEditor";
import { RulesText } from "./components/RulesText";
import { ScoringEditor } from "./components/ScoringEditor";
import { SeatsEditor } from "./components/SeatsEditor";
import { SetUpEditor } from "./components/SetUpEditor";
import { TurnEditor } from "./components/TurnEditor";
import { PLAY_PARTS, type PlayDoc, type PlayPart, partOf } from "./playDoc";
import type { EditPlay, PlayPreview } from "./types";
import "./play.css";

export function PlayEditor({ part, go }: { part: PlayPart; go: (part: PlayPart) => void }) {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const { parts, starts, actions, write, asking } = useParts();
  const [pair, setPair] = useState<{ sender?: string; answer?: string }>({});
  const play = parts?.play ?? null;
  const { found } = useAsked<PlayPreview>(
    parts
      ? () =>
          requests.lookAtTheRulesOfPlay({
            params: { path: { game_id: game } },
            body: { value: play as never, sender: pair.sender ?? null, answer: pair.answer ?? null },
          })
      : null,
    // All but the rules of play is read as the server has it, so it is asked anew once that is written.
    [game, play, pair, seq],
  );
  if (!parts) return <p className="loading">Opening the rules…</p>;
  if (!play) return <NotLaidOut lay={(value) => void write("play", value)} starts={starts as PlayDoc[]} />;
  const lay: EditPlay = (changed) => void write("play", { ...play, ...changed });
  const mine = (found?.gaps ?? []).filter((gap) => partOf(gap.part) === part);
  return (
    <div className="play-editor">
      <div className="rules-main play-main">
        <h2 className="rules-title">{PLAY_PARTS.find(([id]) => id === part)?.[1]}</h2>
        {asking && (
          <div className="rules-trouble" role="alert">
            <b className="needs">{asking.would.join("; ")}.</b>
            <button type="button" className="small-button" onClick={asking.take}>
              Write it
            </button>
            <button type="button" className="small-button" onClick={asking.leave}>
              Leave it as it was
            </button>
          </div>
        )}
        {mine.length > 0 && (
          <ul className="play-gaps" aria-label="Problems">
            {mine.map((gap) => (
              <li key={gap.what} className={gap.stops ? "play-stops" : ""}>
                <b>{gap.stops ? "Can't be played: " : ""}</b>
                {gap.what} — {gap.mend}.
              </li>
            ))}
          </ul>
        )}
        {part === "seats" && <SeatsEditor play={play} lay={lay} table={parts.table} write={write} />}
        {part === "set_up" && (
          <SetUpEditor play={play} lay={lay} table={parts.table} resources={parts.resources} write={write} />
        )}
        {part === "phases" && (
          <TurnEditor
            play={play}
            lay={lay}
            table={parts.table}
            resources={parts.resources}
            actions={actions}
            write={write}
          />
        )}
        {part === "after_play" && <AfterPlayEditor play={play} lay={lay} />}
        {part === "clash" && (
          <ClashEditor
            play={play}
            lay={lay}
            resources={parts.resources}
            told={found?.clash ?? null}
            setPair={setPair}
          />
        )}
        {part === "actions" && <ActionsEditor play={play} lay={lay} resources={parts.resources} look={found} />}
        {part === "market" && <MarketEditor play={play} lay={lay} resources={parts.resources} look={found} />}
        {part === "scoring" && <ScoringEditor play={play} lay={lay} look={found} />}
        {part === "goals" && <GoalsEditor play={play} lay={lay} resources={parts.resources} game={game} />}
      </div>
      <RulesText look={found} part={part} go={go} game={game} />
      <MadeOfIt look={found} game={game} go={go} />
    </div>
  );
}

/** A game that says nothing of how it is played. */
function NotLaidOut({ lay, starts }: { lay: (play: PlayDoc) => void; starts: PlayDoc[] }) {
  return (
    <div className="play-none">
      <h2 className="rules-title">How it is played</h2>
      <p>
        No rules yet: you play alone and freely. You draw, play, discard and clear cards away as you like, turn by turn.
      </p>
      <p className="soft">
        Add rules, and the engine plays by them: against an automatic player, between two people, or thousands of games.
      </p>
      <div className="form-row">
        {starts[1] && (
          <button type="button" className="button button-main" onClick={() => lay(starts[1] as PlayDoc)}>
            Start with rules for two
          </button>
        )}
        {starts[0] && (
          <button type="button" className="button" onClick={() => lay(starts[0] as PlayDoc)}>
            Start with rules for one
          </button>
        )}
      </div>
    </div>
  );
}

/** The turn in a line, what keeps a match from beginning, and the way to one. */
function MadeOfIt({ look, game, go }: { look: PlayPreview | null; game: string; go: (part: PlayPart) => void }) {
  const leave = useGo();
  const stillHere = useStillHere();
  const [busy, setBusy] = useState(false);
  const stops = (look?.gaps ?? []).filter((gap) => gap.stops);
  const trial = async () => {
    setBusy(true);
    const made = await newTable(game, {});
    setBusy(false);
    if (made && stillHere()) leave(`/${game}/playtest?table=${made.id}`);
  };
  return (
    <section className="play-made" aria-label="How it will play">
      <p className="play-made-said" title={look?.short}>
        {look?.short ?? "Reading the rules…"}
      </p>
      {stops.map((gap) => (
        <button key={gap.what} type="button" className="link needs" onClick={() => go(partOf(gap.part))}>
          {gap.what}
        </button>
      ))}
      <button
        type="button"
        className="button button-main"
        disabled={!look || stops.length > 0 || busy}
        onClick={() => void trial()}
      >
        <Play size={14} aria-hidden="true" /> Try it
      </button>
    </section>
  );
}
