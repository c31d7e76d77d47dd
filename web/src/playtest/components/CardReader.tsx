// The card under pointer or focus, enlarged: face, printed and current numbers, state.
import { Link } from "react-router";
import type { Game, Schemas } from "../../state/client";
import { Face } from "../../ui/Face";
import type { Playtest } from "../types";
import { marksOf } from "./CardState";
import { PinnedNotes } from "./PinnedNotes";

type Props = { card: Schemas["TableCardOut"] | null; table: Playtest; game: Game };

export function CardReader({ card, table, game }: Props) {
  const every = table.view.seats.flatMap((seat) => seat.zones.flatMap((zone) => zone.cards ?? []));
  const now = card && (every.find((each) => each.instance === card.instance) ?? card);
  if (!now || !table.titles[now.card]) {
    return (
      <section className="reading reading-none" aria-label="The card you point at">
        <p className="soft">Point at a card, or walk there with the arrows: it is read large here.</p>
      </section>
    );
  }
  const stats = game.roles.stats ?? [];
  const words = table.words[now.card];
  const marks = marksOf(now, game, table);
  const changed = stats.filter((stat) => now.printed[stat] !== undefined && now.stats[stat] !== now.printed[stat]);
  return (
    <section className="reading" aria-label="The card you point at">
      <Face card={now.card} title={table.titles[now.card] ?? ""} />
      <div className="reading-facts">
        {stats
          .filter((stat) => now.stats[stat] !== undefined)
          .map((stat) => (
            <p key={stat}>
              {game.fields.find((field) => field.id === stat)?.name} <b className="num">{now.stats[stat]}</b>
              {changed.includes(stat) && <span className="soft"> printed {now.printed[stat]}</span>}
            </p>
          ))}
        {words?.lines.map((line) => (
          <p key={line}>{line}</p>
        ))}
        {now.damage > 0 && (
          <p>
            <b className="num">{now.damage}</b> {game.damage}
          </p>
        )}
        {now.changes.map((change) => (
          <p key={change} className="reading-change">
            {change}
          </p>
        ))}
        {marks.map((mark) => (
          <p key={mark} className="soft">
            {mark}
          </p>
        ))}
        {words && !words.written && <p className="needs">This text has no effect lines: resolve it by hand.</p>}
        <PinnedNotes key={now.card} card={now} table={table} game={game} />
        <Link to={`/${game.id}/cards?card=${now.card}`}>Open in Cards</Link>
      </div>
    </section>
  );
}
