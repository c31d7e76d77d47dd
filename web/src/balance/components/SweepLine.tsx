import { Square } from "lucide-react";
import type { ReactNode } from "react";
import type { GamesAsked } from "../../state/useGamesRequest";
import { GamesProgress } from "../../ui/GamesProgress";

const GAMES = [500, 2_000, 8_000];

type Props = {
  asked: GamesAsked;
  range: [string, string];
  setRange: (range: [string, string]) => void;
  /** What a number in the range looks like. */
  form: RegExp;
  games: number;
  setGames: (games: number) => void;
  go: () => void;
  children?: ReactNode;
};

/** The range and number of games of a sweep; start, progress and stop. */
export function SweepLine({ asked, range, setRange, form, games, setGames, go, children }: Props) {
  const { running, trouble, stop } = asked;
  const [low, high] = range;
  const ready = form.test(low) && form.test(high);
  return (
    <>
      <form
        className="sweep-line"
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) go();
        }}
      >
        {children}
        <label>
          from{" "}
          <input
            className="input sweep-number"
            inputMode="decimal"
            value={low}
            aria-label="From"
            onChange={(event) => setRange([event.target.value, high])}
          />
        </label>
        <label>
          to{" "}
          <input
            className="input sweep-number"
            inputMode="decimal"
            value={high}
            aria-label="To"
            onChange={(event) => setRange([low, event.target.value])}
          />
        </label>
        <select
          className="select"
          aria-label="Games for each value"
          value={games}
          onChange={(event) => setGames(Number(event.target.value))}
        >
          {GAMES.map((each) => (
            <option key={each} value={each}>
              {each.toLocaleString("en")} games each
            </option>
          ))}
        </select>
        {running ? (
          <button type="button" className="small-button" onClick={stop}>
            <Square size={12} aria-hidden="true" /> Stop
          </button>
        ) : (
          <button type="submit" className="small-button" aria-disabled={!ready}>
            Sweep
          </button>
        )}
      </form>
      {running && <GamesProgress className="sweep-progress" running={running} />}
      {trouble && (
        <p role="alert">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}.
        </p>
      )}
    </>
  );
}
