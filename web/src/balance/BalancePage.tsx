import { useMemo, useRef, useState } from "react";
import { Link } from "react-router";
import { TryInHand } from "../playtest/components/TryInHand";
import { useAddress } from "../state/address";
import { choicesOf } from "../state/choices";
import { useAsked } from "../state/query";
import { useGame } from "../state/store";
import { Hover } from "../ui/Hover";
import { Tabs, tabId } from "../ui/Tabs";
import { points, Verdict } from "../ui/Verdict";
import * as requests from "./api";
import { CardBalance } from "./components/CardBalance";
import { ChartExport } from "./components/ChartExport";
import { Duels } from "./components/Duels";
import { Lenses } from "./components/Lenses";
import { SetMap } from "./components/SetMap";
import { HealthPage } from "./HealthPage";
import type { MapData } from "./types";
import "./lenses.css";
import { counted } from "../ui/plural";

type View = "map" | "lenses" | "duels" | "health";
type Lens = "declared" | "implied" | "measured";
const VIEWS: [View, string][] = [
  ["map", "Set map"],
  ["lenses", "Lenses"],
  ["duels", "Duels"],
  ["health", "Health"],
];
const LENSES: [Lens, string][] = [
  ["declared", "as declared"],
  ["implied", "implied by costs"],
  ["measured", "as games measure"],
];

/** Balance: the set map by one lens, the lenses, deck duels, and the health of the set. */
export function BalancePage() {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const [params, setParams] = useAddress();
  const view = VIEWS.find(([each]) => each === params.get("view"))?.[0] ?? "map";
  const lens = LENSES.find(([each]) => each === params.get("lens"))?.[0] ?? "declared";
  const put = (name: string, value: string) =>
    setParams(
      (now) => {
        if (value) now.set(name, value);
        else now.delete(name);
        return now;
      },
      { replace: true },
    );
  const asMap = useMapOf("declared", seq);
  const seen = useMapOf(lens, seq);
  if (!game) return null;
  const map = asMap;
  if (!map) return <div className="loading">Working out the map…</div>;
  const stand = params.get("card");
  const shown = stand ? cards[stand] : undefined;
  const of = params.get("of") === "rows" ? "rows" : "cards";
  const wide = view === "duels" || view === "health" || (view === "lenses" && of === "rows");
  return (
    <div className={`balance-room ${wide ? "balance-wide" : ""}`}>
      <section className="map-pane" aria-label={VIEWS.find(([each]) => each === view)?.[1]}>
        <header className="map-head">
          <h1 className="unseen">{VIEWS.find(([each]) => each === view)?.[1]}</h1>
          <Tabs
            label="Ways to look at the set"
            parts={VIEWS}
            at={view}
            choose={(each) => put("view", each === "map" ? "" : each)}
            panel="balance-view"
          />
        </header>
        <div id="balance-view" role="tabpanel" aria-labelledby={tabId("balance-view", view)} className="balance-view">
          {view === "map" && (
            <MapView
              map={seen ?? map}
              ghosts={lens === "declared" ? null : map}
              lens={lens}
              params={params}
              put={put}
              stand={stand}
            />
          )}
          {view === "lenses" && (
            <Lenses
              map={map}
              of={of}
              setOf={(next) => put("of", next === "rows" ? next : "")}
              stand={stand}
              setStand={(card) => put("card", card)}
            />
          )}
          {view === "duels" && <Duels />}
          {view === "health" && <HealthPage />}
        </div>
      </section>
      {!wide &&
        (view === "lenses" && shown ? (
          <aside className="outliers" data-pane aria-label={shown.title}>
            <CardBalance
              key={shown.id}
              card={shown}
              map={map}
              leave={() => {
                // Return the focus to the row that opened it.
                document.querySelector<HTMLElement>(".lens-stand .lens-name")?.focus();
                put("card", "");
              }}
            />
          </aside>
        ) : (
          <Outliers map={view === "map" ? (seen ?? map) : map} />
        ))}
    </div>
  );
}

function useMapOf(lens: Lens, seq: number): MapData | null {
  const game = useGame((state) => state.game?.id ?? "");
  return useAsked(game ? () => requests.costAndWorth({ params: { path: { game_id: game }, query: { lens } } }) : null, [
    game,
    seq,
    lens,
  ]).found;
}

type MapProps = {
  map: MapData;
  /** The declared positions of cards while another lens is shown. */
  ghosts: MapData | null;
  lens: Lens;
  params: URLSearchParams;
  put: (name: string, value: string) => void;
  stand: string | null;
};

function MapView({ map, ghosts, lens, params, put, stand }: MapProps) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const [asTable, setAsTable] = useState(params.get("as") === "table");
  const drawing = useRef<HTMLDivElement>(null);
  const faction = game?.roles.faction ?? "";
  const apart = params.get("by") === "faction" && !!faction;
  const was = useMemo(() => {
    // Drawing all declared positions would hide the map: only those of outliers are drawn.
    const out = new Set(map.outliers);
    return Object.fromEntries(
      (ghosts?.cards ?? [])
        .filter((each) => out.has(each.card))
        .map((each) => [each.card, { cost: each.cost, worth: each.worth }]),
    );
  }, [ghosts, map]);
  const setStand = (card: string) => put("card", card);
  if (!game) return null;
  const kinds = choicesOf(game, faction)?.values ?? [];
  const nothing = lens === "measured" && !map.cards.length;
  return (
    <>
      <div className="map-line">
        <select
          className="select"
          aria-label="Worth"
          value={lens}
          onChange={(event) => put("lens", event.target.value)}
        >
          {LENSES.map(([each, said]) => (
            <option key={each} value={each}>
              {said}
            </option>
          ))}
        </select>
        <p className="soft">
          {counted(map.cards.length, "card")} by cost and worth. Within {points(map.tolerance, false)} of its budget a
          card is fair
          {lens === "declared" ? "." : "; a line is an interval, a ring where an outlier is declared."}
        </p>
        <span className="map-line-end">
          {faction && kinds.length > 1 && (
            <button
              type="button"
              className="button"
              aria-pressed={apart}
              onClick={() => put("by", apart ? "" : "faction")}
            >
              By {game.fields.find((field) => field.id === faction)?.name.toLowerCase()}
            </button>
          )}
          <button type="button" className="button" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
            {asTable ? "Show the map" : "Show as a table"}
          </button>
          <ChartExport
            name={`${game.name} set map ${lens}`}
            drawing={asTable || apart ? undefined : drawing}
            rows={() => [
              ["card", "cost", "worth", "budget", "difference", "low", "high", "verdict"],
              ...map.cards.map((each) => [
                cards[each.card]?.title,
                each.cost,
                each.worth,
                each.budget,
                each.difference,
                each.low,
                each.high,
                each.judgement,
              ]),
            ]}
          />
        </span>
      </div>
      {nothing ? (
        <p className="lens-told">
          No games say yet what cards are worth in points. <Link to={`/${game.id}/balance?view=lenses`}>Measure</Link>{" "}
          some thousands, then the map shows them.
        </p>
      ) : asTable ? (
        <MapTable map={map} />
      ) : apart ? (
        <div className="map-multiples" tabIndex={0} role="region" aria-label="A map for each">
          {kinds
            .map((kind) => ({ kind, own: only(map, (card) => cards[card]?.values[faction] === kind.name) }))
            .filter(({ own }) => own.cards.length)
            .map(({ kind, own }) => (
              <figure key={kind.id}>
                <figcaption>
                  {kind.name} <span className="soft num">{own.cards.length}</span>
                </figcaption>
                <SetMap map={own} stand={stand} setStand={setStand} was={stood(was, own)} small of={map} />
              </figure>
            ))}
        </div>
      ) : (
        <div className="map-whole" ref={drawing}>
          <SetMap map={map} stand={stand} setStand={setStand} was={was} />
        </div>
      )}
    </>
  );
}

/** The map of some of its cards. */
const only = (map: MapData, holds: (card: string) => boolean): MapData => ({
  ...map,
  cards: map.cards.filter((each) => holds(each.card)),
  outliers: map.outliers.filter(holds),
});

/** Where some of the cards stood. */
const stood = (was: Record<string, { cost: number; worth: number }>, map: MapData) =>
  Object.fromEntries(map.cards.flatMap((each) => (was[each.card] ? [[each.card, was[each.card]]] : []))) as typeof was;

function Outliers({ map }: { map: MapData }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const byCard = new Map(map.cards.map((point) => [point.card, point]));
  const open = map.cards.filter((point) => point.judgement === "open");
  const fair = map.cards.filter((point) => point.judgement === "fair").length;
  if (!game) return null;
  return (
    <aside className="outliers" data-pane aria-label="Outliers">
      <div className="tally">
        <span>
          <b className="num">{fair}</b> fair
        </span>
        <span>
          <b className="num">{map.outliers.length}</b> outliers
        </span>
        <span>
          <b className="num">{open.length}</b> undecided
        </span>
      </div>
      <h2>Outliers, furthest first</h2>
      {map.outliers.length === 0 && (
        <p className="empty">
          {fair ? (
            "Every priced card is within its budget."
          ) : (
            <>
              No card is priced yet. <Link to={`/${game.id}/rules?at=game:prices`}>Set worths</Link>
            </>
          )}
        </p>
      )}
      <ol className="outlier-list">
        {map.outliers.map((id) => {
          const point = byCard.get(id);
          if (!point) return null;
          return (
            <li key={id}>
              <Hover card={id}>
                <Link to={`/${game.id}/cards?card=${id}`}>{cards[id]?.title}</Link>
              </Hover>
              <Verdict judgement={point.judgement} difference={point.difference} />
              <span className="soft">{point.reason}</span>
              <TryInHand card={id} className="small-button" short />
            </li>
          );
        })}
      </ol>
      {open.length > 0 && (
        <>
          <h2>Undecided: not all of it has a worth</h2>
          <ol className="outlier-list">
            {open.slice(0, 60).map((point) => (
              <li key={point.card}>
                <Hover card={point.card}>
                  <Link to={`/${game.id}/cards?card=${point.card}`}>{cards[point.card]?.title}</Link>
                </Hover>
                <span className="verdict verdict-open">undecided</span>
                <span className="soft">{point.reason}</span>
              </li>
            ))}
          </ol>
        </>
      )}
      {map.unpriced.length > 0 && (
        <p className="soft">
          {counted(map.unpriced.length, "card has no cost and is", "cards have no cost and are")} not on the map.
        </p>
      )}
    </aside>
  );
}

function MapTable({ map }: { map: MapData }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  /** A game without costs has none to show. */
  const priced = !!game?.roles.cost;
  const byDifference = [...map.cards].sort((one, other) => other.difference - one.difference);
  return (
    <div className="map-table" tabIndex={0} role="region" aria-label="The map's numbers">
      <table>
        <thead>
          <tr>
            <th scope="col">Card</th>
            {priced && (
              <th scope="col" className="num">
                Cost
              </th>
            )}
            <th scope="col" className="num">
              Worth
            </th>
            <th scope="col" className="num">
              Budget
            </th>
            <th scope="col" className="num">
              Difference
            </th>
            <th scope="col">Verdict</th>
          </tr>
        </thead>
        <tbody>
          {byDifference.map((point) => (
            <tr key={point.card}>
              <th scope="row">
                <Link to={`/${game?.id}/cards?card=${point.card}`}>{cards[point.card]?.title}</Link>
              </th>
              {priced && <td className="num">{point.cost}</td>}
              <td className="num">{points(point.worth, false)}</td>
              <td className="num">{points(point.budget, false)}</td>
              <td className="num">{points(point.difference)}</td>
              <td>{point.judgement}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
