// The sheet of the card one stands on: as written, and as it would be with what is being typed.

import { api, ask, type Sheet } from "./client";
import type { Typed } from "./drafts";
import { useAsked } from "./query";

/** The latest text without a mistake, of the field being typed: shown while the next words are still being typed. */
let good: Typed = null;

/** Sheets that came with an edit's answer, by card and revision, until they are shown: nobody asks for them again. */
const brought = new Map<string, Sheet>();

export function bringSheet(sheet: Sheet, revision: number): void {
  brought.clear();
  brought.set(`${sheet.card}/${revision}`, sheet);
}

/** The rules or a plan changed: what was brought before says what was. */
export const forgetSheets = (): void => brought.clear();

function taken(card: string, revision: number): Sheet | undefined {
  const place = `${card}/${revision}`;
  const found = brought.get(place);
  brought.delete(place);
  return found;
}

/** The card's sheet: as written, or with what is being typed. `rules` counts what else its face follows from. */
export function useSheet(
  game: string,
  card: string | null,
  revision: number,
  rules: number,
  typed: Typed,
): Sheet | null {
  const text = typed && typed.card === card ? typed : null;
  const asking = async () => {
    const path = { game_id: game, card_id: card ?? "" };
    const found = text
      ? await ask(
          api.POST("/api/games/{game_id}/cards/{card_id}/preview", {
            params: { path },
            body: {
              typed: { [text.field]: text.text },
              good: good?.card === path.card_id && good.field === text.field ? good.text : undefined,
            },
          }),
        )
      : (taken(path.card_id, revision) ??
        (await ask(api.GET("/api/games/{game_id}/cards/{card_id}/sheet", { params: { path } }))));
    if (text && !found.problems.some((problem) => problem.where === "effect")) good = text;
    if (!text) good = null;
    return found;
  };
  const when = [game, card, revision, rules, text?.field, text?.text];
  const sheet = useAsked(card ? asking : null, when).found;
  return sheet && sheet.card === card ? sheet : null;
}
