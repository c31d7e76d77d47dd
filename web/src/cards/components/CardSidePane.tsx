// The pane of the focused card. Only this pane and the verdict cell are rendered for each key press.
import { useEffect } from "react";
import type { Card } from "../../state/client";
import { typing, typingMakes, useTyped } from "../../state/drafts";
import { isUnmade } from "../../state/pending";
import { useTouched } from "../../state/query";
import { useSheet } from "../../state/sheet";
import { useGame } from "../../state/store";
import { CardPane } from "./CardPane";

type Props = { card: Card; field: string; setField: (field: string) => void; leave: () => void; others: string[] };

export function CardSidePane({ card, field, setField, leave, others }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const rules = useTouched("game", "plan", "set", "run", "picture", "name");
  const typed = useTyped(card.id);
  const sheet = useSheet(game, isUnmade(card) ? null : card.id, card.revision, rules, typed);
  const ledger = typed && sheet?.card === card.id ? sheet.ledger : null;
  useEffect(() => {
    if (ledger) typingMakes({ judgement: ledger.judgement, difference: ledger.difference });
  }, [ledger]);
  useEffect(() => () => typing(null), []);
  return <CardPane card={card} sheet={sheet} field={field} setField={setField} leave={leave} others={others} />;
}
