import type { Player } from "../useMeasure";

const PLAYERS: [Player, string][] = [
  ["plain", "Simple: what is worth most now"],
  ["ahead", "Looks ahead: a step further, slower"],
  ["random", "Random"],
];

type Props = {
  counts: number[];
  games: number;
  setGames: (games: number) => void;
  player: Player;
  setPlayer: (player: Player) => void;
};

/** How many games, and which automatic player plays both sides. */
export function PlayerSelect({ counts, games, setGames, player, setPlayer }: Props) {
  return (
    <>
      <label>
        <span aria-hidden="true">Games </span>
        <select
          className="select"
          aria-label="Games"
          value={games}
          onChange={(event) => setGames(Number(event.target.value))}
        >
          {counts.map((each) => (
            <option key={each} value={each}>
              {each.toLocaleString("en")}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span aria-hidden="true">Played by </span>
        <select
          className="select"
          aria-label="Played by"
          value={player}
          onChange={(event) => setPlayer(event.target.value as Player)}
        >
          {PLAYERS.map(([value, said]) => (
            <option key={value} value={value}>
              {said}
            </option>
          ))}
        </select>
      </label>
    </>
  );
}
