// What a price list can't price, with fixes: rows that match equally well, effects without a row.
import { useEffect, useRef } from "react";
import { useGame } from "../../state/store";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import type { PricesLook } from "../priceSheet";
import type { PriceRow } from "../useParts";

type Equal = PricesLook["equal"][number];
type Unpriced = PricesLook["unpriced"][number];
const NAMED = 3;
const OFFERED = 6;

export function EqualRows({ equal, win }: { equal: Equal; win: (row: PriceRow) => void }) {
  const mends = Object.values(equal.mends) as PriceRow[];
  return (
    <div className="worths-equal">
      <p>
        <b className="needs">{equal.rows.join(" and ")}</b> match “{equal.what}” equally well, so neither prices it on{" "}
        <Cards ids={equal.cards} />.
      </p>
      <p className="worths-mends">
        {mends.map((row) => (
          <button key={row.id} type="button" className="small-button" onClick={() => win(row)}>
            Let {row.id} price it
          </button>
        ))}
        {!mends.length && <span className="soft">They name the very same: remove one, or let one name more.</span>}
      </p>
    </div>
  );
}

type MissingProps = {
  unpriced: Unpriced[];
  /** The card that a link asks about: what it lacks comes first, and has the focus. */
  card: string | null;
  add: (row: PriceRow) => void;
};

export function Missing({ unpriced, card, add }: MissingProps) {
  const first = useRef<HTMLButtonElement>(null);
  const asked = (each: Unpriced) => card !== null && each.cards.includes(card);
  const sorted = [...unpriced].sort((one, other) => Number(asked(other)) - Number(asked(one)));
  const wanted = sorted[0] && asked(sorted[0]) ? sorted[0].row.id : null;
  useEffect(() => {
    if (wanted === null) return;
    first.current?.scrollIntoView({ block: "nearest" });
    first.current?.focus();
  }, [wanted]);
  return (
    <div className="worths-missing">
      <b className="needs">No row prices</b>
      {sorted.slice(0, OFFERED).map((each, place) => (
        <button
          key={each.row.id}
          ref={place === 0 ? first : undefined}
          type="button"
          className="small-button"
          onClick={() => add(each.row as PriceRow)}
        >
          Price {each.row.id}
          <span className="soft">{counted(each.cards.length, "card")}</span>
        </button>
      ))}
      {unpriced.length > OFFERED && <span className="soft">and {unpriced.length - OFFERED} more</span>}
    </div>
  );
}

function Cards({ ids }: { ids: string[] }) {
  const cards = useGame((state) => state.cards);
  const more = ids.length - NAMED;
  return (
    <>
      {ids.slice(0, NAMED).map((id, at) => (
        <span key={id}>
          {at ? ", " : ""}
          <Hover card={id}>
            <span>{cards[id]?.title ?? id}</span>
          </Hover>
        </span>
      ))}
      {more > 0 ? ` and ${more} more` : ""}
    </>
  );
}
