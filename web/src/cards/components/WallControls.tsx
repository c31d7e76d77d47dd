import { useGame } from "../../state/store";
import type { Groups } from "../cardsAddress";

/** The two fields that group the wall, and the size of its faces. */
export function WallControls({ groups, setGroups }: { groups: Groups; setGroups: (groups: Groups) => void }) {
  const game = useGame((state) => state.game);
  const name = (id: string) =>
    id === "type" ? "Card type" : (game?.fields.find((field) => field.id === id)?.name ?? id);
  const side = (label: string, which: "across" | "down") => (
    <label className="wall-side">
      {label}
      <select
        className="select"
        value={groups[which]}
        onChange={(event) => setGroups({ ...groups, [which]: event.target.value })}
      >
        {game?.groupable.map((id) => (
          <option key={id} value={id}>
            {name(id)}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <>
      {side("Across", "across")}
      {side("Down", "down")}
      <label className="wall-side">
        Zoom
        <input
          type="range"
          min={70}
          max={300}
          step={10}
          value={groups.zoom}
          onChange={(event) => setGroups({ ...groups, zoom: Number(event.target.value) })}
        />
      </label>
    </>
  );
}
