import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { TryInHand } from "../playtest/TryInHand";
import { api, ask, type Schemas } from "../state/client";
import { useGame } from "../state/store";
import { Hover } from "../ui/Hover";
import { points, Verdict } from "../ui/Verdict";
import { Lenses } from "./Lenses";
import { SetMap } from "./SetMap";

export type MapData = Schemas["MapOut"];

/** Every card by cost and worth against what its cost buys; those that stick out are named. */
export function BalancePage() {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const [params, setParams] = useSearchParams();
  const [map, setMap] = useState<MapData | null>(null);
  const [asTable, setAsTable] = useState(params.get("as") === "table");
  const lenses = params.get("view") === "lenses";
  const turn = (view: string) =>
    setParams(
      (now) => {
        if (view) now.set("view", view);
        else now.delete("view");
        return now;
      },
      { replace: true },
    );
  // biome-ignore lint/correctness/useExhaustiveDependencies: each edit moves marks
  useEffect(() => {
    if (game)
      ask(api.GET("/api/games/{game_id}/map", { params: { path: { game_id: game.id } } })).then(
        setMap,
        () => undefined,
      );
  }, [game?.id, seq]);
  if (!game) return null;
  if (!map) return <div className="loading">Working out the map…</div>;
  const byCard = new Map(map.cards.map((point) => [point.card, point]));
  const open = map.cards.filter((point) => point.judgement === "open");
  const fair = map.cards.filter((point) => point.judgement === "fair").length;
  return (
    <div className="balance-room">
      <section className="map-pane" aria-label={lenses ? "Lenses" : "Set map"}>
        <header className="map-head">
          <h1 className="unseen">{lenses ? "Lenses" : "Set map"}</h1>
          <div className="balance-views" role="group" aria-label="Ways to look at the set">
            <button type="button" aria-pressed={!lenses} onClick={() => turn("")}>
              Set map
            </button>
            <button type="button" aria-pressed={lenses} onClick={() => turn("lenses")}>
              Lenses
            </button>
          </div>
          {!lenses && (
            <>
              <p className="soft">
                {map.cards.length} cards by cost and worth. Within {points(map.tolerance, false)} of its budget a card
                is fair.
              </p>
              <button type="button" className="button" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
                {asTable ? "Show the map" : "Show as a table"}
              </button>
            </>
          )}
        </header>
        {lenses ? (
          <Lenses map={map} />
        ) : asTable ? (
          <MapTable map={map} />
        ) : (
          <SetMap map={map} stand={params.get("card")} setStand={(card) => setParams({ card }, { replace: true })} />
        )}
      </section>
      <aside className="outliers" data-pane aria-label="Outliers">
        <div className="tally">
          <span>
            <b className="num">{fair}</b> fair
          </span>
          <span className="needs">
            <b className="num">{map.outliers.length}</b> outliers
          </span>
          <span>
            <b className="num">{open.length}</b> open
          </span>
        </div>
        <h2>Outliers, furthest first</h2>
        {map.outliers.length === 0 && <p className="empty">Every priced card is within its budget.</p>}
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
                <TryInHand card={id} className="icon-button" short />
              </li>
            );
          })}
        </ol>
        {open.length > 0 && (
          <>
            <h2>Open: not all of it is priced</h2>
            <ol className="outlier-list">
              {open.slice(0, 60).map((point) => (
                <li key={point.card}>
                  <Hover card={point.card}>
                    <Link to={`/${game.id}/cards?card=${point.card}`}>{cards[point.card]?.title}</Link>
                  </Hover>
                  <span className="verdict verdict-open">open</span>
                  <span className="soft">{point.reason}</span>
                </li>
              ))}
            </ol>
          </>
        )}
        {map.unpriced.length > 0 && (
          <p className="soft">{map.unpriced.length} cards have no cost and are not on the map.</p>
        )}
      </aside>
    </div>
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
