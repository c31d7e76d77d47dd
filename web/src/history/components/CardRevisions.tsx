// The revisions of a card: changes, faces, and restoring a field or the whole card.

import { useState } from "react";
import { type Revision, restoreCard } from "../../state/history";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { SheetDialog } from "../../ui/Sheet";
import { shortly } from "../../ui/when";
import * as requests from "../api";
import { FaceThen, FieldChanges } from "./Changes";

type Props = { card: string; title: string; close: () => void };

export function CardRevisions({ card, title, close }: Props) {
  const game = useGame((state) => state.game);
  const seq = useGame((state) => state.seq);
  const cards = useGame((state) => state.cards);
  const there = card in cards;
  const revision = cards[card]?.revision;
  const { found } = useAsked<Revision[]>(
    () =>
      requests.cardRevisions({
        params: { path: { game_id: game?.id ?? "", card_id: card } },
      }),
    [game?.id, card, revision, there],
  );
  const [chosen, setChosen] = useState<number | null>(null);
  const past = found ?? [];
  const newest = past[0];
  const at = past.find((each) => each.seq === chosen) ?? past[Math.min(1, past.length - 1)];
  if (!game) return null;
  const isNow = at?.seq === newest?.seq && there;
  return (
    <SheetDialog open setOpen={(open) => !open && close()} title={`History of ${title}`} className="past-sheet">
      <div className="past">
        <ol className="past-list" aria-label="Revisions, newest first">
          {past.map((each) => (
            <li key={each.seq}>
              <button
                type="button"
                className="past-step"
                aria-pressed={each.seq === at?.seq}
                onClick={() => setChosen(each.seq)}
              >
                <b className="num">{each.revision}</b>
                <span>
                  {each.kind === "changed" ? each.changes.map((change) => change.name).join(", ") : each.kind}
                  <small className="soft">{shortly(each.at)}</small>
                </span>
              </button>
            </li>
          ))}
          {found && past.length === 1 && <li className="soft past-empty">Nothing was changed since it was made.</li>}
        </ol>
        {at && newest && (
          <div className="past-look">
            <div className="past-faces mat">
              <FaceThen card={card} seq={at.seq} label={`revision ${at.revision}`} />
              {there && !isNow && <FaceThen card={card} seq={seq} label={`now, revision ${newest.revision}`} />}
            </div>
            <h3>
              Revision {at.revision}: {at.label}
            </h3>
            {at.changes.length > 0 ? (
              <FieldChanges
                changes={at.changes}
                act={(change) => (
                  <button
                    type="button"
                    className="small-button"
                    title={`Make ${change.name} “${change.before || "empty"}” again`}
                    onClick={() => void restoreCard(card, at.seq - 1, [change.field])}
                  >
                    Back to “{(change.before || "empty").slice(0, 18)}”
                  </button>
                )}
              />
            ) : (
              <p className="soft">The card was {at.kind}.</p>
            )}
            {at.kind !== "removed" && (!isNow || !there) && (
              <p>
                <button type="button" className="button button-main" onClick={() => void restoreCard(card, at.seq)}>
                  {there ? `Restore the whole card to revision ${at.revision}` : "Restore the card like this"}
                </button>
              </p>
            )}
          </div>
        )}
      </div>
    </SheetDialog>
  );
}
