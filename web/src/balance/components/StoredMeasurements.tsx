// Stored measurements, and the choice of another measurement for comparison.

import { useState } from "react";
import type { Schemas } from "../../state/client";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { inGame } from "../../state/sync";
import { change, signed } from "../../state/writing";
import { counted } from "../../ui/plural";
import * as requests from "../api";
import type { Comparison } from "../types";
import type { Measurement, Player } from "../useMeasure";

type Kept = Schemas["KeptOut"];

export function useBeside(found: Measurement | null) {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const touched = useTouched("measurement");
  const [chosen, setChosen] = useState("");
  const kept = useAsked(game ? () => requests.keptMeasurements(inGame(game)) : null, [game, touched, seq]);
  const others = (found?.players ?? []).filter((each) => each !== found?.player);
  const player = chosen.startsWith("player:") ? (chosen.slice(7) as Player) : null;
  const other = useAsked(
    game && player && others.includes(player)
      ? () => requests.measurement({ params: { path: { game_id: game }, query: { player } } })
      : null,
    [game, player, others.join(" "), found?.player],
  );
  const held = kept.found?.find((each) => each.id === chosen) ?? null;
  const shown: Comparison | null = held
    ? { name: `than ${held.name}`, cards: held.cards }
    : player && other.found
      ? { name: `than under ${player}`, cards: other.found.cards }
      : null;
  return {
    kept: kept.found ?? [],
    others,
    chosen: held || (player && others.includes(player)) ? chosen : "",
    choose: setChosen,
    shown,
    keep: () =>
      change((id, key) =>
        requests.keepMeasurement({
          params: signed(id, key),
          body: { name: "", player: found?.player ?? null },
        }),
      ),
    remove: (ident: string) =>
      change((id, key) =>
        requests.takeMeasurementOut({
          params: {
            path: { game_id: id, measurement_id: ident },
            header: { "idempotency-key": key },
          },
        }),
      ),
  };
}

export function KeptLine({ beside }: { beside: ReturnType<typeof useBeside> }) {
  const held = beside.kept.find((each) => each.id === beside.chosen);
  if (!beside.kept.length && !beside.others.length) return null;
  return (
    <span className="lens-beside">
      <label>
        <span aria-hidden="true">Comparison </span>
        <select
          className="select"
          aria-label="Measurement beside"
          value={beside.chosen}
          onChange={(event) => beside.choose(event.target.value)}
        >
          <option value="">nothing else</option>
          {beside.others.map((each) => (
            <option key={each} value={`player:${each}`}>
              the last under {each}
            </option>
          ))}
          {beside.kept.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </select>
      </label>
      {held && <HeldLine held={held} remove={() => void beside.remove(held.id)} />}
    </span>
  );
}

function HeldLine({ held, remove }: { held: Kept; remove: () => void }) {
  return (
    <>
      <span className="soft">
        {counted(held.games, "game")} under {held.player}, seed {held.seed}, {held.at.slice(0, 10)}
        {held.edited.length > 0 && <>; {counted(held.edited.length, "card")} edited since</>}
      </span>
      <button type="button" className="small-button" onClick={remove}>
        Remove
      </button>
    </>
  );
}
