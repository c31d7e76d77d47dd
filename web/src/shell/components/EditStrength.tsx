// With "measure edits" on: the change of the card's win rate by the last edit.

import { Gauge } from "lucide-react";
import { useEffect, useState } from "react";
import { ApiError, type Ripple, type Schemas } from "../../state/client";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import * as requests from "../api";

type Measured = Schemas["EditMeasuredOut"];
type Answer = { seq: number; found: Measured | null; why: string };
const KEPT = "dramok-measure-edits";
/** Somebody who types on is asked about the last edit alone. */
const PAUSE = 250;

const wanted = (): boolean => localStorage.getItem(KEPT) === "yes";

export function useMeasuringEdits(): [boolean, (on: boolean) => void] {
  const [on, setOn] = useState(wanted);
  return [
    on,
    (next: boolean) => {
      localStorage.setItem(KEPT, next ? "yes" : "no");
      setOn(next);
    },
  ];
}

type ToggleProps = { on: boolean; turn: (on: boolean) => void };

export function MeasureEdits({ on, turn }: ToggleProps) {
  return (
    <button
      type="button"
      className="small-button ripples-measure"
      aria-pressed={on}
      title="After each edit of a card or a worth, some thousand games say what it does to the card's win rate"
      onClick={() => turn(!on)}
    >
      <Gauge size={13} aria-hidden="true" /> Measure edits
    </button>
  );
}

/** The answer to the latest edit; an edit that comes meanwhile ends the games of the one before. */
export function EditStrength({ ripple }: { ripple: Ripple }) {
  const game = useGame((state) => state.game?.id ?? "");
  const [answer, setAnswer] = useState<Answer | null>(null);
  const card = ripple.cards.find((each) => each.before && each.after)?.card;
  useEffect(() => {
    if (!card) return;
    const mine = new AbortController();
    const timer = setTimeout(() => {
      const params = { path: { game_id: game }, query: { card, after: ripple.seq - 1 } };
      requests.editMeasured({ params, signal: mine.signal }).then(
        (found) => setAnswer({ seq: ripple.seq, found, why: "" }),
        (error: unknown) => {
          if (!mine.signal.aborted && error instanceof ApiError)
            setAnswer({ seq: ripple.seq, found: null, why: error.problem.status ? error.problem.detail : "" });
        },
      );
    }, PAUSE);
    return () => {
      clearTimeout(timer);
      mine.abort();
    };
  }, [game, card, ripple.seq]);
  if (!card) return null;
  if (answer?.seq !== ripple.seq) return <span className="soft">measuring…</span>;
  if (!answer.found) return answer.why ? <span className="soft">not measured: {answer.why}</span> : null;
  const { more, low, high, same, worths } = answer.found;
  if (same)
    return <span className="soft">{worths.length ? "no card would cost anything else" : "plays as before"}</span>;
  const sure = low > 0 ? "over" : high < 0 ? "under" : "fair";
  return (
    <span
      title={`${counted(answer.found.games, "game")} with ${worths.length ? "cards at the cost that the worth asked for" : "the card as it was"}, and the same ${worths.length ? "at the cost that it asks for now" : "with it as it is"}`}
    >
      <b className={`verdict verdict-${sure}`}>
        {more < 0 ? "−" : "+"}
        {Math.abs(more).toFixed(1)} ± {((high - low) / 2).toFixed(1)}
      </b>{" "}
      points of win rate{worths.length > 0 && ` for cards priced by ${worths.length > 1 ? "them" : "it"}`}
    </span>
  );
}
