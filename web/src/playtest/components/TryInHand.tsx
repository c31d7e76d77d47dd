// Start a match with the card in the opening hand.
import { Hand } from "lucide-react";
import { useState } from "react";
import { useGo, useStillHere } from "../../state/address";
import { useGame } from "../../state/store";
import { newTable } from "../startMatch";

/** `short`: “Try” alone; `bare`: the icon alone, where there is a row of them. */
type Props = { card: string; deck?: string; className: string; short?: boolean; bare?: boolean };

export function TryInHand({ card, deck, className, short, bare }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const title = useGame((state) => state.cards[card]?.title ?? "");
  const go = useGo();
  const stillHere = useStillHere();
  const [busy, setBusy] = useState(false);
  const begin = async () => {
    setBusy(true);
    const made = await newTable(game, { card, deck: deck ?? "" });
    setBusy(false);
    if (made && stillHere()) go(`/${game}/playtest?table=${made.id}`);
  };
  return (
    <button
      type="button"
      className={className}
      disabled={busy}
      tabIndex={deck ? -1 : 0}
      aria-label={short || bare ? `Try ${title} in hand` : undefined}
      title="A match with this card in the opening hand"
      onClick={() => void begin()}
    >
      <Hand size={14} aria-hidden="true" />
      {bare ? "" : short ? "Try" : "Try in hand"}
    </button>
  );
}
