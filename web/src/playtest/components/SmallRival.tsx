// One of several rivals: who plays, the counts of its piles, what it holds, and its cards in play.
import type { ReactNode } from "react";
import type { Game, Schemas } from "../../state/client";
import type { Playtest } from "../types";

type Props = {
  seat: Schemas["SeatOut"];
  table: Playtest;
  game: Game;
  player: string | undefined;
  name: string;
  /** Its hand where everybody may see it. */
  hand: ReactNode;
  children: ReactNode;
};

export function SmallRival({ seat, table, game, player, name, hand, children }: Props) {
  const zones = seat.zones.filter((each) => each.zone !== "play" && (each.zone !== "removed" || each.count > 0));
  return (
    <section
      className={`rival-small ${table.view.active === seat.seat && table.asked !== "over" ? "rival-active" : ""}`}
      aria-label={name}
    >
      <header>
        <b>{name}</b>
        <span className="on-mat-soft">{seatedName(game, player)}</span>
        {seat.out && <span className="on-mat-soft">out of the match</span>}
      </header>
      <div className="rival-counts">
        {zones.map((each) => (
          <span key={each.zone}>
            {each.name} <b className="num">{each.count}</b>
          </span>
        ))}
        {game.resources
          .filter((each) => !each.shared)
          .map((each) => (
            <span key={each.id}>
              {each.names} <b className="num">{seat.resources[each.id] ?? 0}</b>
            </span>
          ))}
      </div>
      {hand}
      <ul className="in-play-cards rival-cards" aria-label={`${game.zones.play ?? "in play"}: ${name}`}>
        {children}
      </ul>
    </section>
  );
}

export const seatedName = (game: Game, player: string | undefined): string =>
  player === "person" ? "a person" : (game.automatic_players.find((each) => each.id === player)?.name ?? "");
