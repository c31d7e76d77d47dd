// Sweep a worth: cards with the effect cost what it suggests, and games find the fair worth.

import { useState } from "react";
import { useGame } from "../../state/store";
import { useGamesRequest } from "../../state/useGamesRequest";
import { counted } from "../../ui/plural";
import * as requests from "../api";
import type { SweepResult } from "../types";
import { SweepChart } from "./SweepChart";
import { SweepLine } from "./SweepLine";

const NUMBER = /^-?\d+([.,]\d+)?$/;
const VALUES = 7;
const NAMED = 6;

type Props = { worth: string; name: string; declared: number | null };

export function WorthSweep({ worth, name, declared }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const about = declared || 1;
  const [range, setRange] = useState<[string, string]>([neat(about / 2), neat(about * 2)]);
  const [games, setGames] = useState(2_000);
  const [swept, setSwept] = useState<{ found: SweepResult; seq: number } | null>(null);
  const asked = useGamesRequest("sweep");
  if (!game) return null;
  const [low, high] = range.map((each) => Number(each.replace(",", "."))) as [number, number];
  const go = () => {
    const body = { worth, start: low, end: high, values: VALUES, games, seed: 1, player: "plain" as const };
    const params = { path: { game_id: game.id } };
    return asked.put(
      (signal) => requests.sweepWorth({ params, body, signal }),
      (found) => setSwept({ found, seq }),
    );
  };
  const costs = (place: number) => {
    const has = (card: string) => cards[card]?.values[game.roles.cost ?? ""];
    const moved = Object.entries(swept?.found.asked[place] ?? {}).filter(([card, cost]) => has(card) !== String(cost));
    const told = moved
      .slice(0, NAMED)
      .map(([card, cost]) => `${cards[card]?.title ?? card} ${has(card) ?? "none"} → ${cost}`);
    return moved.length > NAMED
      ? `${told.join(", ")} and ${moved.length - NAMED} more`
      : told.join(", ") || "as they do now";
  };
  return (
    <section className="sweep worth-sweep" aria-label={`Sweep of ${name}`}>
      <SweepLine
        asked={asked}
        range={range}
        setRange={setRange}
        form={NUMBER}
        games={games}
        setGames={setGames}
        go={() => void go()}
      >
        <b>{name}</b>
      </SweepLine>
      {swept && (
        <SweepChart
          swept={swept.found}
          name={name}
          title={game.name}
          outdated={swept.seq !== seq}
          digits={2}
          who="Cards that are priced by it"
          brings={{ head: "then cost", of: costs }}
        />
      )}
      {swept && (
        <p className="soft">
          {counted(Object.keys(swept.found.asked[0] ?? {}).length, "card")} took turns at the cost that the worth asks
          for.
        </p>
      )}
      {!swept && !asked.running && !asked.trouble && (
        <p className="soft">
          Lets every card with this effect cost what the worth asks for, value by value on the same shuffles: how often
          the side that holds one of them wins. Where it wins half of its games, the worth is fair.
        </p>
      )}
    </section>
  );
}

const neat = (number: number): string => String(Number(number.toFixed(2)));
