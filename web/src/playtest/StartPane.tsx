import { useEffect, useState } from "react";
import { Link } from "react-router";
import { api, ask, type Game, type Schemas } from "../state/client";
import { useGame } from "../state/store";

type Props = {
  game: Game;
  deck: string | null;
  begin: (deck: string, seed: number | null) => Promise<void>;
  open: (table: string) => void;
};

/** Which deck, which seed; and the tables that were left standing. */
export function StartPane({ game, deck, begin, open }: Props) {
  const decks = useGame((state) => state.decks);
  const [chosen, setChosen] = useState(deck ?? "");
  const [seed, setSeed] = useState("");
  const [recent, setRecent] = useState<Schemas["PlaytestBrief"][]>([]);
  useEffect(() => {
    ask(api.GET("/api/games/{game_id}/playtests", { params: { path: { game_id: game.id } } })).then(setRecent, () =>
      setRecent([]),
    );
  }, [game.id]);
  const now = decks.find((each) => each.id === chosen) ?? decks[0];
  return (
    <div className="start mat">
      <div className="start-card">
        <h1>Playtest</h1>
        {decks.length ? (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              if (now) void begin(now.id, seed.trim() ? Number(seed) : null);
            }}
          >
            <label>
              Deck
              <select className="select" value={now?.id ?? ""} onChange={(event) => setChosen(event.target.value)}>
                {decks.map((each) => (
                  <option key={each.id} value={each.id}>
                    {each.name} — {each.size} cards{each.legal ? "" : ", not legal"}
                  </option>
                ))}
              </select>
            </label>
            <label>
              Seed
              <input
                className="input"
                inputMode="numeric"
                pattern="[0-9]*"
                maxLength={15}
                placeholder="random if empty"
                value={seed}
                onChange={(event) => setSeed(event.target.value.replace(/\D/g, ""))}
              />
            </label>
            <p className="soft">The same deck, seed and decisions give the same game, here and anywhere.</p>
            <button type="submit" className="button button-main">
              Shuffle and draw
            </button>
          </form>
        ) : (
          <p>
            There is no deck yet. <Link to={`/${game.id}/decks`}>Build one</Link> first.
          </p>
        )}
        {recent.length > 0 && (
          <>
            <h2>Unfinished games</h2>
            <ul className="start-recent">
              {recent.slice(0, 6).map((each) => (
                <li key={each.id}>
                  <button type="button" className="link" onClick={() => open(each.id)}>
                    {each.deck_name}
                  </button>
                  <span className="soft">
                    seed {each.seed}, {each.taken} {each.taken === 1 ? "decision" : "decisions"}
                  </span>
                </li>
              ))}
            </ul>
          </>
        )}
      </div>
    </div>
  );
}
