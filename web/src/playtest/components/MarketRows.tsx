// The cards on sale in the middle of the table: rows, supplies and open piles, with the prices as they are now.
import type { Game, Schemas } from "../../state/client";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { SymbolMark } from "../../ui/SymbolMark";
import { of } from "../options";
import type { Deciding, Playtest, ReadCard } from "../types";
import "../market.css";

type Card = Schemas["TableCardOut"];
type Zone = Schemas["ZoneOut"];
type Props = { table: Playtest; game: Game; decide: (found: Deciding) => void; read: ReadCard };

/** The narrowest and widest place of a card, in px. */
const LEAST = 80;
const MOST = 108;

/** Shared zones with a card for sale. */
export const marketsOf = (table: Playtest): Zone[] =>
  table.view.shared.filter((zone) => zone.cards?.some((each) => each.sale));

export function MarketRows({ table, game, decide, read }: Props) {
  const zones = marketsOf(table);
  if (!zones.length) return null;
  return (
    <div className="markets">
      {zones.map((zone) => {
        const cards = (zone.cards ?? []).filter((each) => each.sale);
        return (
          <section
            key={zone.zone}
            className="market"
            aria-label={zone.name}
            style={{ flex: `${cards.length} 1 ${Math.min(cards.length, 9) * LEAST}px`, maxWidth: cards.length * MOST }}
          >
            <h2 className="market-name">{zone.name}</h2>
            <ul
              className="market-cards"
              style={{ gridTemplateColumns: `repeat(auto-fill, minmax(${LEAST - 8}px, 1fr))` }}
            >
              {cards.map((each) => (
                <OnSale
                  key={each.instance}
                  each={each}
                  left={1 + (zone.cards ?? []).filter((other) => other.card === each.card && !other.sale).length}
                  table={table}
                  game={game}
                  decide={decide}
                  read={read}
                />
              ))}
            </ul>
          </section>
        );
      })}
    </div>
  );
}

type SaleProps = Props & { each: Card; left: number };

function OnSale({ each, left, table, game, decide, read }: SaleProps) {
  const { sale } = each;
  if (!sale) return null;
  const title = table.titles[each.card] ?? "";
  const resource = game.resources.find((one) => one.id === sale.pays);
  const buy = of(table, each.instance).find((option) => option.do === "buy");
  const pick = of(table, each.instance).find((option) => option.do === "pick");
  const found = buy ?? pick;
  const paid = `${sale.price} ${(sale.price === 1 ? resource?.name : resource?.names)?.toLowerCase() ?? ""}`;
  const more = [
    ...sale.reasons,
    ...(sale.passing ? [`${sale.passing} ${nameOf(game, sale.passing_resource)} put on the cards before it`] : []),
    ...(each.tokens ? [`${each.tokens} ${nameOf(game, each.token)} on it for its buyer`] : []),
    ...Object.entries(each.counters).map(([ident, number]) => `${table.counters[ident] ?? ident} ${number}`),
  ];
  const said = `${title}, ${paid}${more.length ? `: ${more.join(", ")}` : ""}${left > 1 ? `, ${left} left` : ""}${buy ? ", buy" : pick ? ", pick" : ""}`;
  return (
    <li
      className={`table-card market-card ${found ? "pegged" : "table-still"}`}
      data-instance={each.instance}
      onPointerEnter={() => read(each)}
    >
      <button
        type="button"
        className="table-face"
        aria-disabled={!found}
        title={more.length ? more.join("\n") : undefined}
        onFocus={() => read(each)}
        onClick={() =>
          found && decide((now) => of(now, each.instance).find((option) => option.do === found.do) ?? null)
        }
        draggable={!!buy}
        onDragStart={(event) => event.dataTransfer.setData("text/plain", String(each.instance))}
        onDragEnd={(event) => {
          // Dropped anywhere on the own side of the table.
          const under = document.elementFromPoint(event.clientX, event.clientY);
          if (buy && under?.closest(".side-mine")) decide(() => buy);
        }}
      >
        <span className="unseen">{said}</span>
        <span aria-hidden="true">
          <Face card={each.card} title={title} />
        </span>
      </button>
      <span className="market-told" aria-hidden="true">
        <span className="market-title">{title}</span>
        <span className="market-price">
          <Amount number={sale.price} ident={sale.pays} game={game} main />
          {sale.passing > 0 && (
            <>
              {" + "}
              <Amount number={sale.passing} ident={sale.passing_resource} game={game} />
            </>
          )}
          {each.tokens > 0 && (
            <span className="market-token">
              <Amount number={each.tokens} ident={each.token} game={game} />
            </span>
          )}
          {Object.entries(each.counters).map(([ident, number]) => (
            <span key={ident} className="market-counter num">
              {number}
            </span>
          ))}
          {left > 1 && <span className="market-left num">×{left}</span>}
        </span>
      </span>
    </li>
  );
}

type AmountProps = { number: number; ident: string; game: Game; main?: boolean };

/** A number of a resource with its symbol, or its name where it has none. */
function Amount({ number, ident, game, main = false }: AmountProps) {
  const symbols = useGame((state) => state.game?.symbols);
  const resource = game.resources.find((one) => one.id === ident);
  const symbol = symbols?.find((one) => one.id === resource?.id);
  return (
    <span className="market-amount">
      {main ? <b className="num">{number}</b> : <span className="num">{number}</span>}
      {symbol ? <SymbolMark symbol={symbol} size={14} /> : <small>{resource?.names.toLowerCase()}</small>}
    </span>
  );
}

const nameOf = (game: Game, ident: string): string =>
  game.resources.find((one) => one.id === ident)?.names.toLowerCase() ?? ident;
