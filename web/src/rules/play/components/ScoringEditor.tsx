// The score sheet: named amounts over all that a player owns, and what decides among equal scores.
import { Trash2 } from "lucide-react";
import { useGame } from "../../../state/store";
import { Picking, Ticking, Typing } from "../../../ui/Typing";
import type { PlayDoc, ScoreDoc, TieDoc } from "../playDoc";
import { quoted, replaced, without } from "../playDoc";
import type { EditPlay, PlayPreview } from "../types";
import { AmountInput } from "./AmountInput";

type Props = { play: PlayDoc; lay: EditPlay; look: PlayPreview | null };

export function ScoringEditor({ play, lay, look }: Props) {
  const roles = useGame((state) => state.game?.roles);
  const fields = useGame((state) => state.game?.fields) ?? [];
  const scoring = play.scoring ?? [];
  const ties = play.ties ?? [];
  const stat = fields.find((each) => each.id === roles?.stats?.[0]);
  const text = stat ? `sum (${quoted(stat.name)} of own card everywhere)` : "count (own card everywhere)";
  return (
    <>
      <p className="soft">
        An amount is written as in effects, over everything a player owns: <code>sum (… of own card everywhere)</code>,{" "}
        <code>count (own card [tag …] everywhere)</code>, <code>held …</code>, and sums, products, <code>least</code>{" "}
        and <code>most</code> of them.
      </p>
      <ul className="market-list">
        {scoring.map((line, at) => (
          <li key={at} className="form form-row score-line" aria-label={`Score line ${at + 1}`}>
            <Typing
              label="Line"
              value={line.name}
              commit={(name) => named(name) && lay({ scoring: replaced(scoring, at, { name: name.trim() }) })}
            />
            <AmountInput
              text={look?.scoring[at]?.text ?? ""}
              words={look?.scoring[at]?.words ?? ""}
              put={(amount) => lay({ scoring: replaced<ScoreDoc>(scoring, at, { amount }) })}
            />
            <Ticking
              label="subtracted"
              value={line.minus ?? false}
              commit={(minus) => lay({ scoring: replaced(scoring, at, { minus }) })}
            />
            <button
              type="button"
              className="icon-button"
              aria-label={`Remove the line ${line.name}`}
              onClick={() => lay({ scoring: without(scoring, at) })}
            >
              <Trash2 size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      {scoring.length === 0 && <p className="soft">No score sheet: matches are won by goals alone.</p>}
      <button
        type="button"
        className="button"
        onClick={() => lay({ scoring: [...scoring, { name: stat?.name ?? "Cards", amount: text, minus: false }] })}
      >
        Add a line
      </button>
      {scoring.length > 0 && play.seats > 1 && (
        <>
          <h3>Among equal scores</h3>
          <ul className="market-list">
            {ties.map((tie, at) => (
              <li key={at} className="form form-row score-line" aria-label={`Tie-breaker ${at + 1}`}>
                <Typing
                  label="Name"
                  value={tie.name}
                  commit={(name) => named(name) && lay({ ties: replaced(ties, at, { name: name.trim() }) })}
                />
                <AmountInput
                  text={look?.ties[at]?.text ?? ""}
                  words={look?.ties[at]?.words ?? ""}
                  put={(amount) => lay({ ties: replaced<TieDoc>(ties, at, { amount }) })}
                />
                <Picking
                  label="Wins"
                  value={tie.lowest ? "lowest" : "highest"}
                  options={[
                    ["highest", "the highest"],
                    ["lowest", "the lowest"],
                  ]}
                  commit={(wins) => lay({ ties: replaced(ties, at, { lowest: wins === "lowest" }) })}
                />
                <button
                  type="button"
                  className="icon-button"
                  aria-label={`Remove the tie-breaker ${tie.name}`}
                  onClick={() => lay({ ties: without(ties, at) })}
                >
                  <Trash2 size={14} aria-hidden="true" />
                </button>
              </li>
            ))}
          </ul>
          <button
            type="button"
            className="button"
            onClick={() =>
              lay({ ties: [...ties, { name: "Fewest cards", amount: "count (own card everywhere)", lowest: true }] })
            }
          >
            Add a tie-breaker
          </button>
        </>
      )}
    </>
  );
}

const named = (name: string): boolean => name.trim().length > 0;
