// Manual moves for text without written behaviour: move or change the chosen card, deal from a pile, set a total. The log marks them.

import { Hand } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Game, Schemas } from "../../state/client";
import type { ManualMove, Playtest } from "../types";

type Props = {
  table: Playtest;
  game: Game;
  chosen: Schemas["TableCardOut"] | null;
  by: (hand: ManualMove) => void;
  close: () => void;
};
type Place = { zone: string; seat: number; under: boolean; said: string };

const BLANK = { card: -1, zone: "", seat: 0, pile: "", pile_seat: 0, under: false, what: "", number: 0 };

export function ManualMoves({ table, game, chosen, by, close }: Props) {
  const places = placesOf(table);
  const piles = places.filter((each) => !each.under && !["hand", "play"].includes(each.zone));
  const [to, setTo] = useState(() =>
    Math.max(
      0,
      places.findIndex((each) => each.zone === "discard"),
    ),
  );
  const [pile, setPile] = useState(0);
  const target = places[to] ?? places[0];
  const source = piles[pile] ?? piles[0];
  const there = { zone: target?.zone ?? "", seat: target?.seat ?? 0, under: target?.under ?? false };
  const inPlay = table.view.seats.some((seat) =>
    seat.zones.some((zone) => zone.zone === "play" && zone.cards?.some((each) => each.instance === chosen?.instance)),
  );
  const stats = (game.roles.stats ?? []).filter((stat) => chosen?.stats[stat] !== undefined);
  const free = table.hands_free;
  const pane = useRef<HTMLElement>(null);
  // In a small window it lies under the table: who opens it sees it.
  useEffect(() => {
    pane.current?.scrollIntoView({ block: "nearest" });
  }, []);
  return (
    <section ref={pane} className="by-hand" aria-label="By hand">
      <header>
        <h2>
          <Hand size={15} aria-hidden="true" /> By hand
        </h2>
        <button type="button" className="small-button" onClick={close}>
          Close <kbd>Esc</kbd>
        </button>
      </header>
      {!free && <p className="needs">First finish what is asked for.</p>}
      <div className="by-hand-line">
        <label>
          <span aria-hidden="true">To </span>
          <select className="select" aria-label="To" value={to} onChange={(event) => setTo(Number(event.target.value))}>
            {places.map((each, place) => (
              <option key={each.said} value={place}>
                {each.said}
              </option>
            ))}
          </select>
        </label>
        {chosen && (
          <button
            type="button"
            className="button"
            disabled={!free}
            onClick={() => by({ ...BLANK, ...there, do: "move", card: chosen.instance })}
          >
            Move {table.titles[chosen.card]}
          </button>
        )}
      </div>
      {chosen ? (
        inPlay && (
          <div className="by-hand-line">
            <Stepper
              name={game.damage}
              value={chosen.damage}
              disabled={!free}
              least={0}
              set={(number) => by({ ...BLANK, do: "damage", card: chosen.instance, number })}
            />
            {stats.map((stat) => (
              <Stepper
                key={stat}
                name={game.fields.find((field) => field.id === stat)?.name ?? stat}
                value={chosen.stats[stat] ?? 0}
                disabled={!free}
                least={0}
                set={(number) =>
                  by({
                    ...BLANK,
                    do: "stat",
                    card: chosen.instance,
                    what: stat,
                    number: number - (chosen.stats[stat] ?? 0),
                  })
                }
              />
            ))}
            <button
              type="button"
              className="button"
              disabled={!free}
              onClick={() => by({ ...BLANK, do: "tilt", card: chosen.instance, number: chosen.tilted ? 0 : 1 })}
            >
              {chosen.tilted ? "Straighten" : "Tilt"}
            </button>
          </div>
        )
      ) : (
        <p className="soft">Press a card to choose what to move or change.</p>
      )}
      {source && (
        <div className="by-hand-line">
          <label>
            <span aria-hidden="true">Of </span>
            <select
              className="select"
              aria-label="Of the pile"
              value={pile}
              onChange={(event) => setPile(Number(event.target.value))}
            >
              {piles.map((each, place) => (
                <option key={each.said} value={place}>
                  {each.said}
                </option>
              ))}
            </select>
          </label>
          <button
            type="button"
            className="button"
            disabled={!free}
            onClick={() => by({ ...BLANK, ...there, do: "top", pile: source.zone, pile_seat: source.seat })}
          >
            Move the top card
          </button>
          <button
            type="button"
            className="button"
            disabled={!free}
            onClick={() => by({ ...BLANK, do: "look", zone: source.zone, seat: source.seat })}
          >
            Look through
          </button>
          <button
            type="button"
            className="button"
            disabled={!free}
            onClick={() => by({ ...BLANK, do: "shuffle", zone: source.zone, seat: source.seat })}
          >
            Shuffle
          </button>
        </div>
      )}
      {table.view.seats.map((seat) => (
        <div className="by-hand-line" key={seat.seat}>
          {table.view.seats.length > 1 && (
            <span className="by-hand-whose">{seat.seat === table.seat ? "You" : whoseSaid(table, seat.seat)}</span>
          )}
          {game.resources
            .filter((each) => !each.shared || seat.seat === table.seat)
            .map((each) => (
              <Stepper
                key={each.id}
                name={each.names}
                value={seat.resources[each.id] ?? 0}
                disabled={!free}
                least={0}
                set={(number) => by({ ...BLANK, do: "total", what: each.id, seat: seat.seat, number })}
              />
            ))}
        </div>
      ))}
    </section>
  );
}

type StepperProps = { name: string; value: number; least: number; disabled: boolean; set: (value: number) => void };

/** A number with less and more; what is written in it counts when it is left, or by Enter. */
function Stepper({ name, value, least, disabled, set }: StepperProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const keep = () => {
    const number = Number(typed);
    if (typed?.trim() && Number.isInteger(number) && number >= least && number !== value) set(number);
    setTyped(null);
  };
  return (
    <span className="stepper">
      <span>{name}</span>
      <button
        type="button"
        aria-label={`${name}: less`}
        disabled={disabled}
        aria-disabled={value <= least}
        onClick={() => value > least && set(value - 1)}
      >
        −
      </button>
      <input
        className="input num"
        aria-label={name}
        inputMode="numeric"
        disabled={disabled}
        value={typed ?? value}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && keep()}
        onBlur={keep}
      />
      <button type="button" aria-label={`${name}: more`} disabled={disabled} onClick={() => set(value + 1)}>
        +
      </button>
    </span>
  );
}

const whoseSaid = (table: Playtest, seat: number): string =>
  table.view.seats.length === 2 ? "your rival" : `seat ${seat + 1}`;

/** What zones are called that have no name of the game's own. */
const UNNAMED: Record<string, string> = { play: "in play", removed: "removed" };

/** Every place where a card can be laid, one's own first; piles from above and from below. */
function placesOf(table: Playtest): Place[] {
  const alone = table.view.seats.length < 2;
  const own = table.view.seats.flatMap((seat) => {
    const whose = seat.seat === table.seat ? "your" : `${whoseSaid(table, seat.seat)}’s`;
    return seat.zones
      .filter((zone) => zone.zone !== "removed" || seat.seat === table.seat)
      .map((zone) => {
        const unnamed = UNNAMED[zone.zone] === zone.name;
        const name = unnamed && zone.zone === "play" ? "side" : zone.name;
        const said = unnamed && zone.zone === "removed" ? "the removed cards" : alone ? zone.name : `${whose} ${name}`;
        return { zone: zone.zone, seat: seat.seat, said };
      });
  });
  const shared = table.view.shared.map((zone) => ({ zone: zone.zone, seat: 0, said: zone.name }));
  return [...own, ...shared].flatMap((each) => {
    const open = { ...each, under: false };
    return ["hand", "play", "removed"].includes(each.zone)
      ? [open]
      : [open, { ...open, under: true, said: `under ${each.said}` }];
  });
}
