// A card on the table: its face, its state, and its options.

import { useContext } from "react";
import type { Game, Schemas } from "../../state/client";
import { Face } from "../../ui/Face";
import { HandsContext } from "../manualMoves";
import { hears, likeliest, of, whyNot, wordFor } from "../options";
import type { Deciding, Playtest, ReadCard } from "../types";
import { CardState } from "./CardState";

type Props = {
  each: Schemas["TableCardOut"];
  table: Playtest;
  game: Game;
  zone: "play" | "rival";
  decide: (found: Deciding) => void;
  read: ReadCard;
};

/** Enter or a press does the likeliest thing; Delete gives it up. */
export function TableCard({ each, table, game, zone, decide, read }: Props) {
  const { choose, chosen } = useContext(HandsContext);
  const id = each.instance;
  const title = table.titles[each.card] ?? "";
  const found = likeliest(table, id);
  const mine = of(table, id);
  const others = mine.filter((option) => !["pick", "dismiss"].includes(option.do));
  const away = mine.find((option) => option.do === "dismiss");
  const asks = ["pick", "declare", "host"].includes(table.asked);
  const why = !found && asks && zone === "play" ? whyNot(table, game, "play") : "";
  const said = `${title}${found ? `, ${wordFor(found.do, game).toLowerCase()}` : ""}${each.damage ? `, ${each.damage} ${game.damage}` : ""}`;
  return (
    <li
      className={`table-card table-${zone} ${found ? "pegged" : "table-still"} ${each.tilted ? "table-tilted" : ""} ${each.clashing || each.answers >= 0 ? "table-forward" : ""} ${chosen === id ? "table-chosen" : ""}`}
      data-instance={id}
      onPointerEnter={() => read(each)}
    >
      <button
        type="button"
        className="table-face"
        aria-disabled={!found && !choose}
        aria-pressed={choose ? chosen === id : undefined}
        title={why || undefined}
        {...hears(each, table, away, decide, read, choose)}
      >
        <span className="unseen">{said}</span>
        <span aria-hidden="true">
          <Face card={each.card} title={title} />
        </span>
      </button>
      <CardState each={each} game={game} table={table} />
      {!choose && (others.length > 1 || away) && (
        <div className="table-acts">
          {others.map((option) => (
            <button
              key={`${option.do} ${option.other}`}
              type="button"
              tabIndex={others.length > 1 ? 0 : -1}
              title={option.says}
              onClick={() => decide(() => option)}
            >
              {option.do === "answer" && others.length > 1 ? option.says : wordFor(option.do, game)}
            </button>
          ))}
          {away && (
            <button type="button" tabIndex={-1} onClick={() => decide(() => away)}>
              {wordFor("dismiss", game)}
            </button>
          )}
        </div>
      )}
    </li>
  );
}
