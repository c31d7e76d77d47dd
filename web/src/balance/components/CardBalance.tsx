// One card in Balance: the three lenses, cards that dominate it, a sweep, and an edit measured before it is saved.

import { X } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import type { Card, Schemas } from "../../state/client";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { inGame } from "../../state/sync";
import { useGamesRequest } from "../../state/useGamesRequest";
import { Face } from "../../ui/Face";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import { points, Verdict } from "../../ui/Verdict";
import * as requests from "../api";
import { between, percent, signed } from "../numberText";
import type { MapData } from "../types";
import { GAMES } from "../useMeasure";
import { SweepPart } from "./SweepPart";

type Props = { card: Card; map: MapData; leave: () => void };

export function CardBalance({ card, map, leave }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const games = useTouched(GAMES);
  const lenses = useAsked(game ? () => requests.sideBySide(inGame(game)) : null, [game, seq, games]);
  const health = useAsked(game ? () => requests.setHealth(inGame(game)) : null, [game, seq]);
  const measured = useAsked(game ? () => requests.measurement(inGame(game)) : null, [game, seq, games]);
  const point = map.cards.find((each) => each.card === card.id);
  const lens = lenses.found?.cards.find((each) => each.card === card.id);
  const lift = measured.found?.cards.find((each) => each.card === card.id);
  const below = health.found?.dominated.find((each) => each.card === card.id);
  const above = health.found?.dominated.filter((each) => each.better.includes(card.id)) ?? [];
  const twins = health.found?.twins.filter((each) => each.one === card.id || each.other === card.id) ?? [];
  const named = (id: string) => (
    <Hover key={id} card={id}>
      <Link to={`/${game}/balance?view=lenses&card=${id}`}>{cards[id]?.title ?? id}</Link>
    </Hover>
  );
  return (
    <section className="card-balance" aria-label={`${card.title} in balance`}>
      <header className="card-balance-head">
        <Face card={card.id} title={card.title} />
        <div>
          <h2>
            <Link to={`/${game}/cards?card=${card.id}`}>{card.title}</Link>
          </h2>
          <p className="soft">{card.code}</p>
          <table className="plain-table">
            <tbody>
              <tr>
                <th scope="row">Declared</th>
                <td className="num">
                  {point && <Verdict judgement={point.judgement} difference={point.difference} />}
                </td>
              </tr>
              <tr>
                <th scope="row">Implied</th>
                <td className="num">{lens?.implied == null ? "—" : signed(lens.implied, 2)}</td>
              </tr>
              <tr>
                <th scope="row">Measured</th>
                <td className="num">
                  {lens?.measured == null
                    ? "—"
                    : `${signed(lens.measured, 2)} ± ${(1.96 * (lens.error ?? 0)).toFixed(2)}`}
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <button type="button" className="icon-button" aria-label="Close" onClick={leave}>
          <X size={15} aria-hidden="true" />
        </button>
      </header>
      {point && <p className="soft">{point.reason}</p>}
      <p>
        {lift?.lift == null ? (
          <span className="soft">No games have measured it yet.</span>
        ) : (
          <>
            A copy brings <b>{signed(lift.lift)}</b> points of win rate ({between(lift.low ?? 0, lift.high ?? 0)}), from{" "}
            {counted(lift.decks, "deck")}
            {lift.named ? ": clearly more than a point from the average card." : "."}
          </>
        )}{" "}
        {lens && lens.surely > 0 && (
          <>
            Its {lens.which} worths are {points(Math.round(lens.apart * 100) / 100, false)} points apart, more than
            chance explains.
          </>
        )}
      </p>
      {below && (
        <p>
          <b className="needs">Dominated</b> by {below.better.map((each, at) => [at > 0 && ", ", named(each)])}:{" "}
          {below.reason}.
        </p>
      )}
      {above.length > 0 && (
        <p>
          Better in everything than {above.slice(0, 6).map((each, at) => [at > 0 && ", ", named(each.card)])}
          {above.length > 6 && ` and ${above.length - 6} more`}.
        </p>
      )}
      {twins.length > 0 && (
        <p>
          Near twins:{" "}
          {twins
            .slice(0, 6)
            .map((each, at) => [
              at > 0 && ", ",
              named(each.one === card.id ? each.other : each.one),
              each.differs ? ` (${each.differs})` : " (the same)",
            ])}
          {twins.length > 6 && ` and ${twins.length - 6} more`}.
        </p>
      )}
      <h3>Sweep</h3>
      <SweepPart card={card} />
      <h3>What if</h3>
      <WhatIf card={card} />
    </section>
  );
}

type Measured = Schemas["EditMeasuredOut"];

/** Measure an unsaved number against the saved card. */
function WhatIf({ card }: { card: Card }) {
  const game = useGame((state) => state.game);
  const type = game?.types.find((each) => each.id === card.type);
  const fields = (game?.fields ?? []).filter((each) => each.kind === "number" && type?.fields.includes(each.id));
  const effect = game?.fields.find((each) => each.id === game.roles.effect && type?.fields.includes(each.id));
  const open = effect ? [...fields, effect] : fields;
  const [field, setField] = useState(open[0]?.id ?? "");
  const [typed, setTyped] = useState<string | null>(null);
  const [found, setFound] = useState<{ measured: Measured; said: string } | null>(null);
  const { running, trouble, put } = useGamesRequest("edit");
  const busy = running !== null;
  if (!game || !open.length) return <p className="soft">This card has nothing that play reads.</p>;
  const value = typed ?? card.values[field] ?? "";
  const of = open.find((each) => each.id === field);
  const same = value === (card.values[field] ?? "");
  const measure = () => {
    const said = `${of?.name.toLowerCase()} ${card.values[field] || "none"} → ${value || "none"}`;
    const body = { card: card.id, values: { [field]: value }, games: 4_000, seed: 1, player: "plain" as const };
    const params = { path: { game_id: game.id } };
    return put(
      (signal) => requests.whatIf({ params, body, signal }),
      (measured) => setFound({ measured, said }),
    );
  };
  return (
    <form
      className="sweep-line what-if"
      aria-label="What if"
      onSubmit={(event) => {
        event.preventDefault();
        if (!busy && !same) void measure();
      }}
    >
      <select
        className="select"
        aria-label="What would be otherwise"
        value={field}
        onChange={(event) => {
          setField(event.target.value);
          setTyped(null);
        }}
      >
        {open.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </select>
      {of?.kind === "effect" ? (
        <textarea
          className="input what-if-effect"
          aria-label="Its effect, as it might be"
          rows={3}
          value={value}
          onChange={(event) => setTyped(event.target.value)}
        />
      ) : (
        <input
          className="input sweep-number"
          inputMode="numeric"
          aria-label="Its value, as it might be"
          value={value}
          onChange={(event) => setTyped(event.target.value)}
        />
      )}
      <button type="submit" className="small-button" aria-disabled={busy} disabled={same}>
        {busy ? "Measuring…" : "Measure it"}
      </button>
      <p role="status" className="what-if-said">
        {trouble ? (
          <>
            <b className="needs">{trouble.detail}</b> — {trouble.mend}.
          </>
        ) : found ? (
          found.measured.same ? (
            <>{found.said}: every game is played as before.</>
          ) : (
            <>
              {found.said}: <b>{signed(found.measured.more)}</b> points of win rate for the side that holds it (
              {between(found.measured.low, found.measured.high)}), to {percent(found.measured.rate)}. Nothing is
              written.
            </>
          )
        ) : (
          <span className="soft">
            Change a value here to see what it would do, on the same shuffles; nothing is written.
          </span>
        )}
      </p>
    </form>
  );
}
