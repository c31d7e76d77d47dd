// The options of a decision and their labels.
import type { Game, Schemas } from "../state/client";
import type { Deciding, Playtest } from "./types";

export type Spoken = Schemas["OptionOut"] & { says: string };

/** What a key or press on the way to the next step does: end the phase, be done with picking, let it be. */
const ONWARD = ["end turn", "done"];

export const spoken = (table: Playtest): Spoken[] =>
  table.options.map((option, place) => ({ ...option, says: table.choices[place] ?? option.do }));

export const of = (table: Playtest, card: number): Spoken[] => spoken(table).filter((option) => option.card === card);

export const onward = (table: Playtest): Spoken | null =>
  spoken(table).find((option) => ONWARD.includes(option.do)) ?? null;

export const has = (table: Playtest, what: string, card = -1): boolean =>
  table.options.some((option) => option.do === what && option.card === card);

const AWAY = ["discard", "dismiss"];

/** What a press on a card does: the likeliest of what can be done with it; putting it away only where that is what is asked. */
export function likeliest(table: Playtest, card: number): Spoken | null {
  const mine = of(table, card);
  const must = ["discard", "hand limit", "redraw"].includes(table.asked);
  return (
    mine.find((option) => option.do === "pick") ?? mine.find((option) => must || !AWAY.includes(option.do)) ?? null
  );
}

/** What a card's button hears: focus reads it, a press or Enter does the likeliest, Delete gives it up. */
export function hears(
  each: Schemas["TableCardOut"],
  table: Playtest,
  away: Spoken | undefined,
  decide: (found: Deciding) => void,
  read: (card: Schemas["TableCardOut"]) => void,
  choose: ((card: Schemas["TableCardOut"]) => void) | null,
) {
  // By hand a press chooses the card that is moved or changed.
  if (choose) return { onFocus: () => read(each), onClick: () => choose(each) };
  return {
    onFocus: () => read(each),
    // What can't be pressed at the moment that is shown is not pressed at another; what can is found anew when it is its turn.
    onClick: () => likeliest(table, each.instance) && decide((now) => likeliest(now, each.instance)),
    onKeyDown: (event: React.KeyboardEvent) => {
      if (!away || !["Delete", "Backspace", "x", "X"].includes(event.key)) return;
      event.preventDefault();
      decide(() => away);
    },
  };
}

export function wordFor(what: string, game: Game): string {
  const words: Record<string, string> = {
    pick: "Pick",
    play: "Play",
    discard: "Discard",
    dismiss: game.dismiss.charAt(0).toUpperCase() + game.dismiss.slice(1),
    clash: "Send",
    answer: "Answer",
    use: "Use",
    buy: "Buy",
  };
  return words[what] ?? what;
}

/** Why nothing can be done with a card of one's own just now. */
export function whyNot(table: Playtest, game: Game, zone: "hand" | "play"): string {
  if (table.at >= 0) return "You look at an earlier moment.";
  if (table.asked === "over") return "The match is over.";
  if (!table.options.length) return "It is not your decision.";
  if (zone === "hand" && table.asked === "act")
    return game.resources.length
      ? "It can't be paid for, or has no place, in this phase."
      : "It can't be played in this phase.";
  if (table.asked === "clash") return "It can't be sent: tilted, new here, or of a type that does not clash.";
  if (table.asked === "answer") return "It can't answer.";
  if (["pick", "declare", "host"].includes(table.asked)) return "It does not fit what is asked for.";
  return "Nothing can be done with it now.";
}
