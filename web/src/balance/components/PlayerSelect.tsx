import { useGame } from "../../state/store";
import type { Player } from "../useMeasure";

type Props = {
  counts: number[];
  games: number;
  setGames: (games: number) => void;
  player: Player;
  setPlayer: (player: Player) => void;
};

/** How many games, and which automatic player plays both sides. */
export function PlayerSelect({ counts, games, setGames, player, setPlayer }: Props) {
  const players = useGame((state) => state.game?.automatic_players) ?? [];
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
          {players.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}: {each.about}
            </option>
          ))}
        </select>
      </label>
    </>
  );
}
