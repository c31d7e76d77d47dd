// The table: the rival's side above, mirrored; the decision between; the own side and hand below; next to it the enlarged card
// and the log.
import { Eye, RotateCcw, Undo2 } from "lucide-react";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import type { Game, Schemas } from "../../state/client";
import { useOwnUndo } from "../../ui/undoKeys";
import { useWindowKeys } from "../../ui/windowKeys";
import { HandsContext } from "../manualMoves";
import { onward, spoken } from "../options";
import type { Deciding, ManualMove, Playtest } from "../types";
import { useMoves } from "../useCardMotion";
import { BranchHere } from "./BranchHere";
import { CardReader } from "./CardReader";
import { Decision } from "./Decision";
import { HandRail } from "./HandRail";
import { LastPlayed } from "./LastPlayed";
import { LogPane } from "./LogPane";
import { ManualMoves } from "./ManualMoves";
import { MarketRows, marketsOf } from "./MarketRows";
import { MotionSettings } from "./MotionSettings";
import { PileRack } from "./PileRack";
import { SmallRival, seatedName } from "./SmallRival";
import { Summary } from "./Summary";
import { TableCard } from "./TableCard";
import { TargetLines } from "./TargetLines";
import { WatchControls } from "./WatchControls";
import "../playtest.css";
import "../hand.css";
import "../beside.css";
import "../lively.css";
import "../rack.css";
import "../table.css";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";

type Props = {
  game: Game;
  /** What is shown: now, or an earlier moment. */
  table: Playtest;
  now: Playtest;
  /** The server can't be reached just now. */
  waiting: boolean;
  decide: (found: Deciding) => void;
  byHand: (hand: ManualMove) => void;
  takeBack: () => void;
  step: () => void;
  lookAt: (at: number | null) => void;
  branch: (at: number, name: string) => void;
  again: (seed: number | null) => void;
  leave: () => void;
};
type Card = Schemas["TableCardOut"];
/** What a zone of play is called that has no name of the game's own. */
const IN_PLAY = "in play";

export function Table(props: Props) {
  const { game, table, now, waiting, decide, byHand, takeBack, step, lookAt, branch, again, leave } = props;
  const { view } = table;
  const [read, setRead] = useState<Card | null>(null);
  const room = useRef<HTMLElement>(null);
  const past = table.at >= 0;
  useMoves(room, table, now);
  /** Done by hand: with which card; null while cards are played by the rules. */
  const [hands, setHands] = useState<{ chosen: Card | null } | null>(null);
  const choose = useCallback((card: Card) => setHands({ chosen: card }), []);
  const byHands = hands !== null && !past;
  const chosen = byHands && hands.chosen ? hands.chosen.instance : -1;
  const doing = useMemo(() => ({ choose: byHands ? choose : null, chosen }), [byHands, choose, chosen]);
  useOwnUndo(takeBack);
  const people = now.players.filter((player) => player === "person").length;
  const watched = people === 0;
  /** Between automatic players both hands can be seen. */
  const [handsOpen, setHandsOpen] = useState(true);
  /** Whose cards may be seen at this screen: with two people each lets the other look away first. */
  const [open, setOpen] = useState(now.seat);
  useEffect(() => {
    if (people < 2) setOpen(now.seat);
  }, [people, now.seat]);
  const covered = people > 1 && open !== now.seat;

  // A table one comes to, by a new game or a reload, has its first card under the keys; focus that fell goes to the next sensible card.
  const settle = useCallback((force: boolean) => {
    const at = document.activeElement as HTMLElement | null;
    if (at && at !== document.body && at.closest("input, textarea, select, [role=dialog], .table-side")) return;
    if (!force && at && at !== document.body && at.isConnected && room.current?.contains(at)) return;
    const next =
      room.current?.querySelector<HTMLElement>(".pegged button.table-face") ??
      room.current?.querySelector<HTMLElement>(".hand .table-card:not(.table-still) button.table-face") ??
      room.current?.querySelector<HTMLElement>(".asked-next") ??
      room.current?.querySelector<HTMLElement>(".hand button.table-face");
    next?.focus({ preventScroll: true });
  }, []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each table, and when it is uncovered
  useLayoutEffect(() => settle(true), [now.id, covered]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is asked for is flagged, and the keys go there
  useLayoutEffect(
    () => settle(["pick", "declare", "host", "discard", "hand limit"].includes(now.asked)),
    [now.taken, now.asked],
  );

  useWindowKeys((event) => {
    const target = event.target as HTMLElement;
    if (target.closest("input, textarea, select, [role=dialog], [role=menu]")) return;
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const key = event.key.toLowerCase();
    const by = (what: string) => decide((then) => spoken(then).find((option) => option.do === what) ?? null);
    if (covered) {
      if (key === "n") setOpen(now.seat);
      else return;
    } else if (past) {
      // An earlier moment is looked at and not decided on.
      if (key === "escape") lookAt(null);
      else if (key === "b") lookAt(Math.max(0, table.at - 1));
      else if (key === "f") lookAt(table.at + 1);
      else return;
    } else if (key === "h" && !watched) setHands(hands ? null : { chosen: null });
    else if (key === "escape" && hands) setHands(null);
    else if (key === "n" && watched) step();
    else if (key === "n") decide(onward);
    else if (key === "d") by("draw");
    else if (key === "u") takeBack();
    else if (key === "escape" && now.options.some((option) => option.do === "cancel")) by("cancel");
    else if (key === "b") lookAt(Math.max(0, now.taken - 1));
    else return;
    event.preventDefault();
  });

  // Arrows walk the cards on the table, wherever the focus stands among them.
  const walk = (event: React.KeyboardEvent) => {
    if (!event.key.startsWith("Arrow")) return;
    const cards = [...(room.current?.querySelectorAll<HTMLElement>(".table-card button.table-face") ?? [])];
    const here = cards.indexOf(document.activeElement as HTMLElement);
    const step = event.key === "ArrowRight" || event.key === "ArrowDown" ? 1 : -1;
    const next = cards[here < 0 ? 0 : (here + step + cards.length) % cards.length];
    if (next) {
      next.focus();
      event.preventDefault();
    }
  };
  const [mine, ...rivals] = view.seats;
  const sold = new Set(marketsOf(table).map((zone) => zone.zone));
  /** Several rivals, or one beside a market, are shown by their counts and what they have in play. */
  const small = rivals.length > 1 || (rivals.length > 0 && sold.size > 0);
  const shared = view.shared.filter((zone) => !sold.has(zone.zone));
  const looked = new Set(view.looked.map((each) => each.instance));
  const cardOf = (each: Card, zone: "play" | "rival") => (
    <TableCard key={each.instance} each={each} table={table} game={game} zone={zone} decide={decide} read={setRead} />
  );
  const inPlay = (seat: Schemas["SeatOut"] | undefined) =>
    seat?.zones.find((zone) => zone.zone === "play")?.cards ?? [];
  if (covered)
    return (
      <div className="table-room mat table-covered" data-taken={now.taken}>
        <div className="cover">
          <h1>Seat {now.seat + 1}</h1>
          <p>It is your turn to decide. When only you see the screen, go on.</p>
          <button
            type="button"
            className="button button-main"
            // biome-ignore lint/a11y/noAutofocus: nothing else can be done here
            autoFocus
            onClick={() => setOpen(now.seat)}
          >
            <Eye size={15} aria-hidden="true" /> Show my cards <kbd>N</kbd>
          </button>
        </div>
      </div>
    );
  const every = [...view.seats.flatMap((seat) => seat.zones), ...view.shared].flatMap((zone) => zone.cards ?? []);
  const found = [...every, ...view.looked, ...view.resolving].find((each) => each.instance === chosen) ?? null;
  return (
    <HandsContext.Provider value={doing}>
      <div className="table-room" data-taken={now.taken}>
        <section
          className={`tabletop mat ${rivals.length ? "table-duel" : "table-alone"}`}
          aria-label="Table"
          ref={room}
          onKeyDown={walk}
        >
          {small && (
            <div className="rivals-many">
              {rivals.map((seat) => (
                <SmallRival
                  key={seat.seat}
                  seat={seat}
                  table={table}
                  game={game}
                  player={now.players[seat.seat]}
                  name={rivals.length > 1 || watched ? `Seat ${seat.seat + 1}` : "Your rival"}
                  hand={
                    watched && handsOpen ? (
                      <OpenHand
                        cards={seat.zones.find((zone) => zone.zone === "hand")?.cards ?? []}
                        table={table}
                        read={setRead}
                      />
                    ) : null
                  }
                >
                  {inPlay(seat).map((each) => cardOf(each, "rival"))}
                </SmallRival>
              ))}
            </div>
          )}
          {(small ? [] : rivals).map((seat) => (
            <section
              key={seat.seat}
              className="side-rival"
              aria-label={`Across the table: ${table.rival || `seat ${seat.seat + 1}`}`}
            >
              <PileRack seat={seat} table={table} game={game} mine={false} decide={decide} />
              <div className="side-cards">
                <header className="rival-head">
                  <b>{table.rival || "Your rival"}</b>
                  {watched && handsOpen && (
                    <OpenHand
                      cards={seat.zones.find((zone) => zone.zone === "hand")?.cards ?? []}
                      table={table}
                      read={setRead}
                    />
                  )}
                  <span className="rival-hand" aria-hidden="true" hidden={watched && handsOpen}>
                    {Array.from(
                      { length: Math.min(seat.zones.find((zone) => zone.zone === "hand")?.count ?? 0, 12) },
                      (_, place) => (
                        <i key={place} className="card-back" />
                      ),
                    )}
                  </span>
                  <span className="on-mat-soft">
                    {game.zones.hand ?? "hand"}{" "}
                    <b className="num">{seat.zones.find((zone) => zone.zone === "hand")?.count ?? 0}</b>
                    {seat.out ? " · out of the match" : ""}
                  </span>
                  <span className="on-mat-soft rival-player">{seatedName(game, now.players[seat.seat])}</span>
                </header>
                <ul
                  className="in-play-cards rival-cards"
                  aria-label={`${game.zones.play ?? "in play"} across the table`}
                >
                  {inPlay(seat).map((each) => cardOf(each, "rival"))}
                </ul>
              </div>
            </section>
          ))}
          <MarketRows table={table} game={game} decide={decide} read={setRead} />
          <Decision table={table} decide={decide} waiting={waiting}>
            <div className="table-doings">
              {past ? (
                <>
                  <BranchHere at={table.at} branch={branch} />
                  <button type="button" className="mat-button" onClick={() => lookAt(null)}>
                    Back to now <kbd>Esc</kbd>
                  </button>
                </>
              ) : (
                <>
                  <button
                    type="button"
                    className="mat-button"
                    disabled={!now.taken}
                    onClick={takeBack}
                    aria-label="Undo the last move"
                    title="Undo the last move"
                  >
                    <Undo2 size={14} aria-hidden="true" /> <kbd>U</kbd>
                  </button>
                  {!watched && now.asked !== "over" && (
                    <button
                      type="button"
                      className={`mat-button ${now.unwritten.length ? "mat-button-needs" : ""}`}
                      aria-pressed={byHands}
                      title="Move cards and numbers yourself, for what no written behaviour does"
                      onClick={() => setHands(hands ? null : { chosen: null })}
                    >
                      By hand <kbd>H</kbd>
                    </button>
                  )}
                  <button
                    type="button"
                    className="mat-button"
                    onClick={() => again(now.seed)}
                    aria-label="Again, same seed"
                    title="The same decks and seed, with cards and rules as they are now"
                  >
                    <RotateCcw size={14} aria-hidden="true" /> Again
                  </button>
                  <button type="button" className="mat-button" onClick={() => again(null)} title="Another shuffle">
                    New seed
                  </button>
                  <button type="button" className="mat-button" onClick={leave}>
                    Leave
                  </button>
                  <MotionSettings />
                </>
              )}
            </div>
          </Decision>
          {watched && !past && (
            <WatchControls table={now} step={step} handsOpen={handsOpen} openHands={() => setHandsOpen(!handsOpen)} />
          )}
          {shared.length > 0 && (
            <ul className="shared-zones" aria-label="Shared">
              {shared.map((zone) => (
                <li key={zone.zone}>
                  {zone.name} <b className="num">{zone.count}</b>
                  {zone.cards && zone.cards.length > 0 && (
                    <>: {table.titles[zone.cards[zone.cards.length - 1]?.card ?? ""]}</>
                  )}
                </li>
              ))}
            </ul>
          )}
          {view.looked.length > 0 && (
            <section className="looked" aria-label="Cards you look at">
              <h2 className="zone-name">You look at</h2>
              <ul className="in-play-cards">{view.looked.map((each) => cardOf(each, "rival"))}</ul>
            </section>
          )}
          <div className="side-mine">
            {!past && <LastPlayed table={now} />}
            {mine && <PileRack seat={mine} table={table} game={game} mine decide={decide} />}
            <div className="side-cards">
              <ul className="in-play-cards" aria-label={game.zones.play ?? "in play"}>
                {[...view.in_play, ...view.resolving.filter((each) => !looked.has(each.instance))].map((each) =>
                  cardOf(each, "play"),
                )}
              </ul>
              {view.in_play.length === 0 && (
                <p className="on-mat-soft zone-empty">
                  {(game.zones.play ?? IN_PLAY) === IN_PLAY
                    ? "Nothing is in play yet."
                    : `The ${game.zones.play} is empty.`}
                </p>
              )}
              <HandRail table={table} game={game} decide={decide} read={setRead} />
            </div>
          </div>
          <TargetLines table={table} pointed={read?.instance ?? -1} room={room} />
          {now.outdated.length > 0 && (
            <p className="outdated">
              {counted(now.outdated.length, "card has", "cards have")} been edited since this game began: it goes on
              with the cards as they were.{" "}
              <Link to={`/${game.id}/cards?card=${now.outdated[0]}`}>See {now.titles[now.outdated[0] ?? ""]}</Link>
            </p>
          )}
        </section>
        <aside className="table-side">
          {now.asked === "over" && !past ? (
            <Summary table={now} game={game} />
          ) : (
            <CardReader card={read} table={table} game={game} />
          )}
          {byHands && <ManualMoves table={now} game={game} chosen={found} by={byHand} close={() => setHands(null)} />}
          <LogPane table={now} game={game} at={past ? table.at : null} lookAt={lookAt} />
        </aside>
      </div>
    </HandsContext.Provider>
  );
}

type OpenHandProps = { cards: Card[]; table: Playtest; read: (card: Card) => void };

/** The hand across the table, where nobody at this screen plays against it: each card is read by pointing at it or by focus. */
function OpenHand({ cards, table, read }: OpenHandProps) {
  return (
    <ul className="rival-open" aria-label="Hand across the table">
      {cards.map((each) => (
        <li key={each.instance}>
          <button type="button" onFocus={() => read(each)} onPointerEnter={() => read(each)} onClick={() => read(each)}>
            <span className="unseen">{table.titles[each.card]}</span>
            <span aria-hidden="true">
              <Face card={each.card} title="" />
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
