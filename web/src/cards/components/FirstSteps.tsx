// The first steps of a new game; each is ticked from the game's content and links to its place.

import { Check, X } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../state/client";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import * as requests from "../api";

type Steps = Schemas["StepsOut"];
const MANY = 10;

/** what it is called, whether it is done, where it is done. */
const STEPS: [string, (steps: Steps) => boolean, string][] = [
  ["Ten cards of your own", (steps) => steps.cards >= MANY, "cards"],
  ["Worths and budgets", (steps) => steps.priced, "rules?at=game:prices"],
  ["A deck", (steps) => steps.decks > 0, "decks"],
  ["A first game", (steps) => steps.played, "playtest"],
  ["A printed page", (steps) => steps.printed, "output"],
];

const keyOf = (game: string) => `dramok-steps-${game}`;

export function FirstSteps() {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const [gone, setGone] = useState(() => localStorage.getItem(keyOf(game)) === "gone");
  const asking = () => requests.steps({ params: { path: { game_id: game } } });
  const { found } = useAsked(game && !gone ? asking : null, [game, seq]);
  if (gone || !found?.own || STEPS.every(([, done]) => done(found))) return null;
  return (
    <nav className="first-steps" aria-label="First steps">
      <b>First steps</b>
      <ol>
        {STEPS.map(([name, done, to]) => {
          const is = done(found);
          return (
            <li key={name} className={is ? "step-done" : ""}>
              {is ? <Check size={14} aria-label="done" /> : <span className="step-open" aria-hidden="true" />}
              {is ? name : <Link to={`/${game}/${to}`}>{name}</Link>}
            </li>
          );
        })}
      </ol>
      <button
        type="button"
        className="icon-button"
        aria-label="Dismiss the first steps"
        title="Dismiss for good"
        onClick={() => {
          localStorage.setItem(keyOf(game), "gone");
          setGone(true);
        }}
      >
        <X size={15} aria-hidden="true" />
      </button>
    </nav>
  );
}
