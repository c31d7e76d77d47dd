// Sweep a number of a card on the same shuffles: the win rate for each value, and the fair one.

import { useState } from "react";
import type { Card } from "../../state/client";
import { useGame } from "../../state/store";
import { useGamesRequest } from "../../state/useGamesRequest";
import * as requests from "../api";
import type { SweepResult } from "../types";
import { SweepChart } from "./SweepChart";
import { SweepLine } from "./SweepLine";

const AROUND = 3;
const WHOLE = /^-?\d+$/;

export function SweepPart({ card }: { card: Card }) {
  const game = useGame((state) => state.game);
  const type = game?.types.find((each) => each.id === card.type);
  const fields = (game?.fields ?? []).filter(
    (each) => each.kind === "number" && type?.fields.includes(each.id) && each.id !== game?.roles.copies,
  );
  const first = fields.find((each) => each.id === game?.roles.cost) ?? fields[0];
  const [field, setField] = useState(first?.id ?? "");
  const now = Number(card.values[field] ?? 0) || 0;
  const [range, setRange] = useState<[string, string] | null>(null);
  const [low, high] = range ?? [String(Math.max(0, now - AROUND)), String(now + AROUND)];
  const [games, setGames] = useState(2_000);
  const [swept, setSwept] = useState<{ found: SweepResult; field: string; revision: number } | null>(null);
  const asked = useGamesRequest("sweep");
  if (!game || !first) return <p className="soft">This card has no number that could be swept.</p>;
  const sweep = () => {
    const body = {
      card: card.id,
      field,
      start: Number(low),
      end: Number(high),
      games,
      seed: 1,
      player: "plain" as const,
    };
    const params = { path: { game_id: game.id } };
    return asked.put(
      (signal) => requests.sweep({ params, body, signal }),
      (found) => setSwept({ found, field, revision: card.revision }),
    );
  };
  return (
    <section className="sweep" aria-label="Sweep of a number">
      <SweepLine
        asked={asked}
        range={[low, high]}
        setRange={setRange}
        form={WHOLE}
        games={games}
        setGames={setGames}
        go={() => void sweep()}
      >
        <select
          className="select"
          aria-label="Number that is swept"
          value={field}
          onChange={(event) => {
            setField(event.target.value);
            setRange(null);
          }}
        >
          {fields.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </select>
      </SweepLine>
      {swept && (
        <SweepChart
          swept={swept.found}
          name={fields.find((each) => each.id === swept.field)?.name ?? swept.field}
          title={card.title}
          outdated={swept.revision !== card.revision}
        />
      )}
      {!swept && !asked.running && !asked.trouble && (
        <p className="soft">
          Plays the card with each value on the same shuffles: how often the side that holds it wins, and which value
          would make it as strong as an average card.
        </p>
      )}
    </section>
  );
}
