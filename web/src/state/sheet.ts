// The sheet of the card one stands on: as written, and as it would be with what is being typed.
import { useEffect, useRef, useState } from "react";
import { api, ask, type Sheet } from "./client";

export type Typed = { card: string; field: string; text: string } | null;

/** The latest text without a mistake, of the field being typed: what the server falls back to while there is one. */
let good: Typed = null;

export const goodText = (card: string, field: string): string | undefined =>
  good?.card === card && good.field === field ? good.text : undefined;

/** Latest wins: while one preview is on its way only the newest text waits behind it. */
export function useSheet(game: string, card: string | null, revision: number, typed: Typed): Sheet | null {
  const [sheet, setSheet] = useState<Sheet | null>(null);
  const latest = useRef(0);
  const busy = useRef(false);
  const next = useRef<(() => void) | null>(null);
  const text = typed && typed.card === card ? typed : null;

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new revision means a new sheet of the same card
  useEffect(() => {
    if (!card) {
      setSheet(null);
      return;
    }
    latest.current += 1;
    const mine = latest.current;
    const path = { game_id: game, card_id: card };
    const go = async () => {
      busy.current = true;
      try {
        const found = text
          ? await ask(
              api.POST("/api/games/{game_id}/cards/{card_id}/preview", {
                params: { path },
                body: { typed: { [text.field]: text.text }, good: goodText(card, text.field) },
              }),
            )
          : await ask(api.GET("/api/games/{game_id}/cards/{card_id}/sheet", { params: { path } }));
        if (text && !found.problems.some((problem) => problem.where === "effect")) good = text;
        if (!text) good = null;
        if (mine === latest.current) setSheet(found);
      } catch {
        // The last sheet stays; a lost connection is said in the strip.
      } finally {
        busy.current = false;
        const waiting = next.current;
        next.current = null;
        waiting?.();
      }
    };
    if (busy.current) next.current = () => void go();
    else void go();
  }, [game, card, revision, text?.field, text?.text]);

  return sheet && sheet.card === card ? sheet : null;
}
