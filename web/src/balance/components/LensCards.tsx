import { useMemo, useState } from "react";
import type { Schemas } from "../../state/client";
import { useGame } from "../../state/store";
import { openPane } from "../../ui/drawer";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import { Verdict } from "../../ui/Verdict";
import { between, signed } from "../numberText";
import type { Comparison, LensData, MapData } from "../types";
import type { Measurement } from "../useMeasure";
import { ChartExport } from "./ChartExport";
import { Interval, IntervalScale } from "./Interval";

type Lift = Schemas["LiftOut"];
type Row = {
  card: string;
  title: string;
  cost: number | null;
  verdict: MapData["cards"][number] | null;
  lift: Lift | null;
  lens: LensData["cards"][number] | null;
  other: Lift | null;
};
type Order = "apart" | "measured" | "declared" | "implied" | "beside" | "cost" | "card";
type Props = {
  map: MapData;
  found: Measurement | null;
  lenses: LensData | null;
  beside: Comparison | null;
  stand: string | null;
  setStand: (card: string) => void;
};

/** Every card by each lens, ordered by certainty and size of the disagreement; a row opens to its reasons. */
export function LensCards({ map, found, lenses, beside, stand, setStand }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const [order, setOrder] = useState<Order>("apart");
  const rows = useMemo((): Row[] => {
    const lifts = new Map(found?.cards.map((each) => [each.card, each]));
    const verdicts = new Map(map.cards.map((each) => [each.card, each]));
    const seen = new Map(lenses?.cards.map((each) => [each.card, each]));
    const others = new Map(beside?.cards.map((each) => [each.card, each]));
    const ids = [...new Set([...seen.keys(), ...lifts.keys(), ...verdicts.keys()])].filter((id) => cards[id]);
    return ids.map((id) => {
      const verdict = verdicts.get(id) ?? null;
      const lift = lifts.get(id);
      const other = others.get(id);
      return {
        card: id,
        title: cards[id]?.title ?? id,
        cost: verdict?.cost ?? null,
        verdict,
        lift: lift?.lift == null ? null : lift,
        lens: seen.get(id) ?? null,
        other: other?.lift == null ? null : other,
      };
    });
  }, [found, map, cards, lenses, beside]);
  const sorted = useMemo(() => [...rows].sort(by(order)), [rows, order]);
  const most = Math.max(2, ...rows.flatMap((row) => [Math.abs(row.lift?.low ?? 0), Math.abs(row.lift?.high ?? 0)]));
  if (!game) return null;
  const head = (what: Order, said: string, className = "", help?: string, scale?: React.ReactNode) => (
    <th
      scope="col"
      className={className}
      aria-sort={order !== what ? "none" : RISING.has(what) ? "ascending" : "descending"}
      title={help}
    >
      <button type="button" onClick={() => setOrder(what)}>
        {said}
      </button>
      {scale}
    </th>
  );
  return (
    <>
      <div className="lens-table" tabIndex={0} role="region" aria-label="Lenses, card by card">
        <table>
          <thead>
            <tr>
              {head("card", "Card")}
              {game.roles.cost && head("cost", "Cost", "num")}
              {head("declared", "Declared, points", "num", "Points over its budget, by the declared worths")}
              {head(
                "implied",
                "Implied, points",
                "num",
                "Points over its budget, by the worths that the other cards' costs imply",
              )}
              {head(
                "measured",
                "Measured, percentage points of win rate per copy",
                "",
                undefined,
                <IntervalScale most={most} />,
              )}
              {beside && head("beside", beside.name, "num", "The difference to it, with its interval")}
              {head(
                "apart",
                "Apart, points",
                "num",
                "The largest disagreement of two lenses, in points; bold where it is too large to be chance",
              )}
            </tr>
          </thead>
          <tbody>
            {sorted.map((row) => (
              <tr
                key={row.card}
                className={`${row.lift?.named ? "lens-named" : ""} ${row.card === stand ? "lens-stand" : ""}`}
              >
                <th scope="row">
                  <Hover card={row.card}>
                    <button
                      type="button"
                      className="lens-name"
                      onClick={() => {
                        setStand(row.card);
                        openPane();
                      }}
                    >
                      {row.title}
                    </button>
                  </Hover>
                </th>
                {game.roles.cost && <td className="num">{row.cost}</td>}
                <td className="num">
                  {row.verdict && <Verdict judgement={row.verdict.judgement} difference={row.verdict.difference} />}
                </td>
                <td className="num">{row.lens?.implied == null ? "" : signed(row.lens.implied, 2)}</td>
                <td>
                  {row.lift ? (
                    <span className="lens-lift">
                      <Interval
                        value={row.lift.lift ?? 0}
                        low={row.lift.low ?? 0}
                        high={row.lift.high ?? 0}
                        most={most}
                      />
                      <b className="num">{signed(row.lift.lift ?? 0)}</b>
                      <span className="num soft">{between(row.lift.low ?? 0, row.lift.high ?? 0)}</span>
                    </span>
                  ) : (
                    <span className="soft">{found?.games ? "in no deck" : "not measured"}</span>
                  )}
                </td>
                {beside && <td className="num">{apartFrom(row)}</td>}
                <td className="num lens-apart" title={row.lens?.which}>
                  {row.lens?.which ? (
                    row.lens.surely > 0 ? (
                      <b>{row.lens.apart.toFixed(2)}</b>
                    ) : (
                      <span className="soft">{row.lens.apart.toFixed(2)}</span>
                    )
                  ) : (
                    ""
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="lens-foot">
        <span className="soft">
          {counted(rows.filter((row) => row.lift?.named).length, "card")} clearly differ from the average by over 1
          point. For {rows.filter((row) => (row.lens?.surely ?? 0) > 0).length} the lenses clearly disagree.
        </span>
        <ChartExport
          name={`${game.name} lenses`}
          rows={() => [
            [
              "card",
              "cost",
              "declared",
              "implied",
              "measured points",
              "lift",
              "low",
              "high",
              "named",
              "decks",
              "apart",
              "surely",
              "which",
            ],
            ...sorted.map((row) => [
              row.title,
              row.cost,
              row.verdict?.difference,
              row.lens?.implied,
              row.lens?.measured,
              row.lift?.lift,
              row.lift?.low,
              row.lift?.high,
              row.lift?.named ? "yes" : "",
              row.lift?.decks,
              row.lens?.apart,
              row.lens?.surely,
              row.lens?.which,
            ]),
          ]}
        />
      </div>
    </>
  );
}

/** The difference of a card's lift from the compared measurement, with its interval. */
function difference({ lift, other }: Row): { by: number; about: number } | null {
  if (lift?.lift == null || other?.lift == null) return null;
  const wide = (each: Lift) => ((each.high ?? 0) - (each.low ?? 0)) / 2;
  return { by: lift.lift - other.lift, about: Math.hypot(wide(lift), wide(other)) };
}

function apartFrom(row: Row) {
  const found = difference(row);
  if (!found) return "";
  const surely = Math.abs(found.by) > found.about;
  const said = `${signed(found.by)} ± ${found.about.toFixed(1)}`;
  return surely ? <b>{said}</b> : <span className="soft">{said}</span>;
}

/** By these the least comes first. */
const RISING = new Set<Order>(["card", "cost"]);

const by =
  (order: Order) =>
  (one: Row, other: Row): number => {
    const falling = (of: (row: Row) => number | null | undefined) => (of(other) ?? -Infinity) - (of(one) ?? -Infinity);
    const named = one.title.localeCompare(other.title);
    switch (order) {
      case "card":
        return named;
      case "cost":
        return (one.cost ?? Infinity) - (other.cost ?? Infinity) || named;
      case "declared":
        return falling((row) => row.verdict?.difference) || named;
      case "implied":
        return falling((row) => row.lens?.implied) || named;
      case "measured":
        return falling((row) => row.lift?.lift) || named;
      case "beside":
        return falling((row) => Math.abs(difference(row)?.by ?? -1)) || named;
      case "apart":
        return falling((row) => (row.lens?.which ? row.lens.apart : null)) || falling((row) => row.lift?.lift) || named;
    }
  };
