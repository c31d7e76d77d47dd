import type { Game, Schemas } from "../state/client";
import { Face } from "../ui/Face";
import { Hover } from "../ui/Hover";
import type { Playtest } from "./PlaytestPage";

type Props = {
  each: Schemas["TableCardOut"];
  table: Playtest;
  game: Game;
  zone: "hand" | "play";
  can: (what: string, card?: number) => boolean;
  decide: (what: string, card?: number) => void;
  turn?: number;
  drop?: number;
};

/** One card at the table. Enter or click does the likeliest thing; Delete gives it up. */
export function TableCard({ each, table, game, zone, can, decide, turn = 0, drop = 0 }: Props) {
  const id = each.instance;
  const title = table.titles[each.card] ?? "";
  const pickable = can("pick", id);
  const mustGive = table.asked === "discard" || table.asked === "hand limit";
  const first = pickable ? "pick" : zone === "hand" ? (mustGive ? "discard" : "play") : "";
  const doable = first !== "" && can(first, id);
  const away = zone === "hand" ? "discard" : "dismiss";
  const words: Record<string, string> = {
    pick: "Pick",
    play: "Play",
    discard: "Discard",
    dismiss: game.dismiss.charAt(0).toUpperCase() + game.dismiss.slice(1),
  };
  const cost = zone === "hand" && table.asked === "act" && !can("play", id) ? "can't be paid for now" : "";
  const said = `${title}${doable ? `, ${words[first]?.toLowerCase()}` : ""}${cost ? `, ${cost}` : ""}${each.damage ? `, ${each.damage} ${game.damage}` : ""}`;
  return (
    <li
      className={`table-card table-${zone} ${pickable ? "pegged" : ""} ${doable ? "" : "table-still"}`}
      style={zone === "hand" ? { transform: `translateY(${drop}px) rotate(${turn}deg)` } : undefined}
    >
      <Hover card={each.card} side={zone === "hand" ? "top" : "right"} delay={450}>
        <button
          type="button"
          className="table-face"
          aria-disabled={!doable}
          onClick={() => doable && decide(first, id)}
          onKeyDown={(event) => {
            if (
              (event.key === "Delete" || event.key === "Backspace" || event.key.toLowerCase() === "x") &&
              can(away, id)
            ) {
              event.preventDefault();
              decide(away, id);
            }
          }}
        >
          <span className="unseen">{said}</span>
          <span aria-hidden="true">
            <Face card={each.card} title={title} />
          </span>
        </button>
      </Hover>
      {zone === "play" && <Standing each={each} game={game} />}
      <div className="table-acts">
        {zone === "hand" && !mustGive && can("play", id) && (
          <button type="button" tabIndex={-1} onClick={() => decide("play", id)}>
            Play
          </button>
        )}
        {can(away, id) && (
          <button type="button" tabIndex={-1} onClick={() => decide(away, id)}>
            {words[away]}
          </button>
        )}
      </div>
    </li>
  );
}

/** Stats as they stand in play, and damage. */
function Standing({ each, game }: { each: Schemas["TableCardOut"]; game: Game }) {
  const stats = (game.roles.stats ?? []).filter((stat) => each.stats[stat] !== undefined);
  if (!stats.length) return null;
  return (
    <span className="standing">
      {stats.map((stat) => (
        <span key={stat} title={game.fields.find((field) => field.id === stat)?.name}>
          {game.fields.find((field) => field.id === stat)?.name} <b className="num">{each.stats[stat]}</b>
        </span>
      ))}
      {each.damage > 0 && (
        <b className="damage num">
          {each.damage} {game.damage}
        </b>
      )}
    </span>
  );
}
