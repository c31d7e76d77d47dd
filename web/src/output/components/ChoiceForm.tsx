// The choice of cards and copies.
import { useExampleCode, useExampleQuery } from "../../state/examples";
import { useGame } from "../../state/store";
import { Picking, Typing } from "../../ui/Typing";
import type { CardChoice, OnPaper } from "../useOutput";
import { AmountInput } from "./AmountInput";

type Props = {
  choice: CardChoice;
  put: (part: Partial<CardChoice>) => void;
  paper: OnPaper | null;
  /** Several decks are chosen elsewhere. */
  decksElsewhere?: boolean;
  withCopies?: boolean;
  withBlanks?: boolean;
};

export function ChoiceForm({ choice, put, paper, decksElsewhere, withCopies, withBlanks }: Props) {
  const query = useExampleQuery();
  const code = useExampleCode();
  const decks = useGame((state) => state.decks);
  const sets = useGame((state) => state.game?.sets ?? []);
  return (
    <fieldset className="order-part">
      <legend>Cards</legend>
      {!decksElsewhere && (
        <Picking
          label="Deck"
          value={choice.deck}
          options={[["", "all cards"], ...decks.map((deck) => [deck.id, deck.name] as const)]}
          commit={(deck) => put({ deck })}
        />
      )}
      {sets.length > 1 && (
        <Picking
          label="Set"
          value={choice.set}
          options={[["", "every set"], ...sets.map((set) => [set.id, set.name] as const)]}
          commit={(set) => put({ set })}
        />
      )}
      <Typing label="Query" placeholder={query} value={choice.query} commit={(query) => put({ query })} />
      <Typing
        label="Places or codes"
        placeholder={`5-8, 17, ${code} -`}
        value={choice.cards}
        commit={(cards) => put({ cards })}
      />
      <Picking
        label="Only"
        value={choice.only}
        options={[
          ["all", "all of these"],
          ["stale", "cards out of date on paper"],
          ["unprinted", "what was never printed"],
          ["wanting", "out of date or never printed"],
          ...(withBlanks || choice.only === "none" ? [["none", "no card of the game"] as const] : []),
        ]}
        commit={(only) => put({ only: only as CardChoice["only"] })}
      />
      {(choice.run || choice.only === "stale") && paper && paper.runs.length > 0 && (
        <Picking
          label="Since the run"
          value={choice.run}
          options={[["", "any run"], ...paper.runs.map((run) => [run.id, run.name] as const)]}
          commit={(run) => put({ run })}
        />
      )}
      {withCopies && (
        <div className={choice.copies == null ? "order-single" : "order-pair"}>
          <Picking
            label="Copies"
            value={choice.copies != null ? "number" : choice.copies_from}
            options={[
              ["deck", choice.deck ? "as in the deck" : "as the card says"],
              ...(choice.deck ? [["card", "as the card says"] as const] : []),
              ["box", "as one box of the game"],
              ["number", "of each"],
            ]}
            commit={(how) =>
              put(
                how === "number"
                  ? { copies: choice.copies ?? 1 }
                  : { copies: null, copies_from: how as CardChoice["copies_from"] },
              )
            }
          />
          {choice.copies != null && (
            <AmountInput
              label="How many"
              least={0}
              most={10_000}
              value={choice.copies}
              commit={(copies) => put({ copies })}
            />
          )}
        </div>
      )}
    </fieldset>
  );
}
