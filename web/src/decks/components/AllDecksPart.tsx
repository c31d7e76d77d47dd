// All decks compared: similarity of each pair, and the decks that contain each card.

import { useState } from "react";
import { Link } from "react-router";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import * as requests from "../api";

const MOST = 400;

export function AllDecksPart({ choose }: { choose: (deck: string) => void }) {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const seq = useGame((state) => state.seq);
  const [only, setOnly] = useState<"all" | "none" | "every">("all");
  const { found } = useAsked(game ? () => requests.acrossDecks({ params: { path: { game_id: game.id } } }) : null, [
    game?.id,
    seq,
  ]);
  if (!game) return null;
  if (!decks.length) return <p className="empty">No deck yet. With two decks, what they share is seen here.</p>;
  const names = new Map(decks.map((each) => [each.id, each.name]));
  const ids = found?.decks.filter((id) => names.has(id)) ?? [];
  const count = (id: string) => found?.decks_of[id] ?? 0;
  const none = order.filter((id) => !count(id)).length;
  const every = order.filter((id) => count(id) === decks.length).length;
  const shown = order
    .filter((id) => (only === "none" ? !count(id) : only === "every" ? count(id) === decks.length : count(id) > 0))
    .sort((one, other) => count(other) - count(one) || (found?.copies_of[other] ?? 0) - (found?.copies_of[one] ?? 0));
  return (
    <div className="across">
      <section aria-label="What decks share" className="across-map">
        <h3>
          Shared by two decks, in % of their copies
          {ids.length < decks.length && (
            <span className="soft">
              {" "}
              (the first {ids.length} of {decks.length} decks)
            </span>
          )}
        </h3>
        <div className="odds-scroll">
          <table className="heat">
            <thead>
              <tr>
                <td />
                {ids.map((id, at) => (
                  <th key={id} scope="col" title={names.get(id)}>
                    {at + 1}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {ids.map((id, at) => (
                <tr key={id}>
                  <th scope="row">
                    <button type="button" className="heat-name" onClick={() => choose(id)}>
                      <span className="num">{at + 1}</span> {names.get(id)}
                    </button>
                  </th>
                  {ids.map((other, place) => {
                    const both = found?.overlap[at]?.[place] ?? 0;
                    return (
                      <td
                        key={other}
                        className={`num ${at === place ? "heat-self" : ""} ${both > 0.5 ? "heat-much" : ""}`}
                        style={at === place ? undefined : ({ "--heat": both } as React.CSSProperties)}
                        title={`${names.get(id)} and ${names.get(other)}`}
                      >
                        {at === place ? "" : Math.round(100 * both)}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </section>
      <section aria-label="Cards in decks" className="across-cards">
        <fieldset className="chips" aria-label="Show only">
          {(
            [
              ["all", "In a deck", order.length - none],
              ["none", "In no deck", none],
              ["every", "In every deck", every],
            ] as const
          ).map(([id, name, number]) => (
            <button key={id} type="button" className="chip" aria-pressed={only === id} onClick={() => setOnly(id)}>
              {name} <span className="chip-count">{number}</span>
            </button>
          ))}
        </fieldset>
        {shown.length ? (
          <ul className="across-list">
            {shown.slice(0, MOST).map((id) => (
              <li key={id}>
                <Hover card={id} side="left">
                  <Link to={`/${game.id}/cards?card=${id}`}>{cards[id]?.title}</Link>
                </Hover>
                <span className="across-bar" aria-hidden="true">
                  <span style={{ width: `${(100 * count(id)) / Math.max(1, decks.length)}%` }} />
                </span>
                <span className="soft num">
                  {count(id)} of {counted(decks.length, "deck")}, {found?.copies_of[id] ?? 0}{" "}
                  {found?.copies_of[id] === 1 ? "copy" : "copies"}
                </span>
              </li>
            ))}
            {shown.length > MOST && <li className="soft">and {shown.length - MOST} more</li>}
          </ul>
        ) : (
          <p className="empty">{found ? "None." : ""}</p>
        )}
      </section>
    </div>
  );
}
