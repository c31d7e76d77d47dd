// The values on cards of a type, field by field: how many are filled, and how often each value occurs.
import { useMemo } from "react";
import { Link } from "react-router";
import { recordOf } from "../../fieldkinds";
import type { Card, Field, Game } from "../../state/client";
import { useGame } from "../../state/store";

const MOST_BARS = 14;
type Bar = { value: string; count: number };

export function FieldUsage({ types }: { types: ReadonlySet<string> }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const mine = useMemo(
    () => order.flatMap((id) => (types.has(cards[id]?.type ?? "") ? [cards[id] as Card] : [])),
    [order, cards, types],
  );
  if (!game || mine.length === 0) return null;
  const has = new Set(game.types.filter((type) => types.has(type.id)).flatMap((type) => type.fields));
  const fields = game.fields.filter((field) => has.has(field.id) && barsOf(field, mine).length > 1);
  if (fields.length === 0) return null;
  return (
    <section className="holdings" aria-label="What its cards hold">
      <h3>What its cards hold</h3>
      <div className="holdings-all">
        {fields.map((field) => (
          <Holding key={field.id} field={field} cards={mine} game={game} types={types} />
        ))}
      </div>
    </section>
  );
}

type Props = { field: Field; cards: Card[]; game: Game; types: ReadonlySet<string> };

function Holding({ field, cards, game, types }: Props) {
  const bars = barsOf(field, cards);
  const shown = bars.slice(0, MOST_BARS);
  const most = Math.max(...shown.map((bar) => bar.count));
  const filled = cards.filter((card) => card.values[field.id]).length;
  const [type] = game.types.filter((each) => types.has(each.id));
  const within = type && types.size === 1 ? ` type is "${type.name}"` : "";
  const said = (value: string) => (recordOf(field).counted === "in order" ? value : `"${value}"`);
  const query = (value: string) => `"${field.name}" ${recordOf(field).several ? "has" : "is"} ${said(value)}${within}`;
  return (
    <figure className="holding">
      <figcaption>
        {field.name}{" "}
        <span className="soft">
          {filled} of {cards.length}
        </span>
      </figcaption>
      <ul>
        {shown.map((bar) => (
          <li key={bar.value}>
            <Link to={`/${game.id}/cards?q=${encodeURIComponent(query(bar.value))}`} title="Show these cards">
              <span className="holding-value">{bar.value}</span>
              <span className="holding-bar">
                <span style={{ width: `${Math.max(2, (100 * bar.count) / most)}%` }} />
              </span>
              <span className="holding-count">{bar.count}</span>
            </Link>
          </li>
        ))}
      </ul>
      {bars.length > shown.length && <p className="soft">and {bars.length - shown.length} more values</p>}
    </figure>
  );
}

/** Values with their counts: numbers in their order, all else by how often. Texts of one's own are not counted. */
function barsOf(field: Field, cards: Card[]): Bar[] {
  const { counted } = recordOf(field);
  if (!counted) return [];
  const counts = new Map<string, number>();
  for (const card of cards)
    for (const value of (card.values[field.id] ?? "").split(", "))
      if (value) counts.set(value, (counts.get(value) ?? 0) + 1);
  const bars = [...counts].map(([value, count]) => ({ value, count }));
  return bars.sort((one, other) =>
    counted === "in order" ? Number(one.value) - Number(other.value) : other.count - one.count,
  );
}
