// Two decks, or two states of one, side by side; and the history of the open deck.

import { useState } from "react";
import { Link } from "react-router";
import type { Deck, Schemas } from "../../state/client";
import { putDeckBack } from "../../state/deckEdits";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import { Picking } from "../../ui/Typing";
import { shortly } from "../../ui/when";
import * as requests from "../api";

type Change = Schemas["DeckChangeOut"];

export function ComparePart({ deck }: { deck: Deck | undefined }) {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const [against, setAgainst] = useState("");
  const past = useAsked(
    game && deck
      ? () =>
          requests.deckPast({
            params: { path: { game_id: game.id, deck_id: deck.id } },
          })
      : null,
    [game?.id, deck?.id, seq],
  );
  const others = decks.filter((each) => each.id !== deck?.id);
  const moments = (past.found ?? []).slice(1);
  const first = others[0] ? `deck ${others[0].id}` : moments[0] ? `at ${moments[0].seq}` : "";
  const chosen = against || first;
  const [kind, id = ""] = chosen.split(" ");
  const query = deck
    ? kind === "at"
      ? { one: deck.id, one_at: Number(id), other: deck.id }
      : { one: id, other: deck.id }
    : null;
  const { found, trouble } = useAsked(
    game && query && id ? () => requests.compareDecks({ params: { path: { game_id: game.id }, query } }) : null,
    [game?.id, chosen, deck?.id, seq],
  );
  if (!game) return null;
  if (!deck) return <p className="empty">No deck yet. Make one, and compare it with its past and with others.</p>;
  const title = (card: string) => cards[card]?.title ?? found?.titles[card] ?? "a card that is gone";
  const section = (change: Change) =>
    change.section
      ? ` (${game.formats.flatMap((each) => each.sections).find((each) => each.id === change.section)?.name ?? change.section})`
      : "";
  return (
    <div className="compare-decks">
      <section aria-label="Compared">
        <div className="form form-row">
          <Picking
            label={`${deck.name} against`}
            value={chosen}
            options={[
              ...others.map((each): [string, string] => [`deck ${each.id}`, each.name]),
              ...moments.map((each): [string, string] => [
                `at ${each.seq}`,
                `itself after “${each.label}”, ${when(each.at)}`,
              ]),
            ]}
            commit={setAgainst}
          />
        </div>
        {!first && <p className="empty">There is no other deck, and this one has no past yet.</p>}
        {trouble && (
          <p className="needs">
            {trouble.detail} — {trouble.mend}
          </p>
        )}
        {found && (
          <>
            <p className="compare-sum">
              {found.changes.length
                ? `${counted(found.changes.length, "card differs", "cards differ")}; ${copies(found.same)} the same.`
                : `No card differs: ${copies(found.same)} the same.`}
            </p>
            <table className="compare-table">
              <thead>
                <tr>
                  <th scope="col">Card</th>
                  <th scope="col">{kind === "at" ? "then" : found.one.name}</th>
                  <th scope="col">{kind === "at" ? "now" : found.other.name}</th>
                  <th scope="col" aria-label="Difference" />
                </tr>
              </thead>
              <tbody>
                {found.changes.map((each) => (
                  <tr key={`${each.section} ${each.card}`}>
                    <th scope="row">
                      <Hover card={each.card} side="right">
                        <Link to={`/${game.id}/cards?card=${each.card}`}>{title(each.card)}</Link>
                      </Hover>
                      <span className="soft">{section(each)}</span>
                    </th>
                    <td className="num">{each.before || "–"}</td>
                    <td className="num">{each.after || "–"}</td>
                    <td className={`num ${each.after > each.before ? "holds" : "needs"}`}>
                      {each.after > each.before ? `+${each.after - each.before}` : `−${each.before - each.after}`}
                    </td>
                  </tr>
                ))}
              </tbody>
              <tfoot>
                <tr>
                  <th scope="row">Cards in all</th>
                  <td className="num">{found.one.size}</td>
                  <td className="num">{found.other.size}</td>
                  <td />
                </tr>
              </tfoot>
            </table>
          </>
        )}
      </section>
      <section aria-label={`Past of ${deck.name}`} className="deck-past">
        <h3>Past of {deck.name}</h3>
        <ol>
          {(past.found ?? []).map((each, place) => (
            <li key={each.seq}>
              <div className="deck-past-head">
                <b>{each.label}</b>
                <span className="soft">
                  {when(each.at)} · {counted(each.size, "card")}
                </span>
              </div>
              {each.changes.length > 0 && each.kind !== "made" && (
                <p className="soft">
                  {each.changes
                    .slice(0, 4)
                    .map((change) => `${title(change.card)} ${change.before} → ${change.after}`)
                    .join(", ")}
                  {each.changes.length > 4 ? ` and ${each.changes.length - 4} more` : ""}
                </p>
              )}
              {place > 0 && each.kind !== "removed" && (
                <span className="deck-past-do">
                  <button type="button" className="small-button" onClick={() => setAgainst(`at ${each.seq}`)}>
                    Compare
                  </button>
                  <button type="button" className="small-button" onClick={() => void putDeckBack(deck.id, each.seq)}>
                    Put this list back
                  </button>
                </span>
              )}
            </li>
          ))}
        </ol>
      </section>
    </div>
  );
}

const copies = (count: number) => counted(count, "copy is", "copies are");

const when = (at: string) => (at ? shortly(at) : "");
