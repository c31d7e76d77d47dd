// The state of a card in play: current stats, damage, keywords.
import type { Game, Schemas } from "../../state/client";
import type { Playtest } from "../types";

type Props = { each: Schemas["TableCardOut"]; game: Game; table: Playtest };

export function CardState({ each, game, table }: Props) {
  const stats = (game.roles.stats ?? []).filter((stat) => each.stats[stat] !== undefined);
  const marks = marksOf(each, game, table);
  if (!stats.length && !marks.length && !each.damage) return null;
  return (
    <span className="standing">
      {stats.map((stat) => {
        const field = game.fields.find((one) => one.id === stat);
        return (
          <span key={stat} title={field?.name}>
            {field?.name.slice(0, 1)}
            <b className="num">{each.stats[stat]}</b>
          </span>
        );
      })}
      {each.damage > 0 && (
        <b className="damage num">
          {each.damage} <span>{game.damage}</span>
        </b>
      )}
      {marks.map((mark) => (
        <em key={mark} className={mark === TILTED ? "unseen" : "mark-of"}>
          {mark}
        </em>
      ))}
    </span>
  );
}

/** Seen by how the card lies. */
const TILTED = "tilted";

export function marksOf(each: Props["each"], game: Game, table: Playtest): string[] {
  const every = table.view.seats.flatMap((seat) => seat.zones.flatMap((zone) => zone.cards ?? []));
  const alike = (instance: number) => {
    const card = every.find((one) => one.instance === instance)?.card;
    return every
      .filter((one) => one.card === card && inPlay(one))
      .map((one) => one.instance)
      .sort((one, other) => one - other);
  };
  const inPlay = (one: Props["each"]) => one.host >= 0 || one.answers >= 0 || Object.keys(one.stats).length > 0;
  /** Which of several cards of one name it is; empty where there is only one. */
  const number = (instance: number) => {
    const same = alike(instance);
    return same.length > 1 && same.includes(instance) ? ` no. ${same.indexOf(instance) + 1}` : "";
  };
  const named = (instance: number) =>
    `${table.titles[every.find((one) => one.instance === instance)?.card ?? ""] ?? ""}${number(instance)}`;
  const meant = every.some((one) => one.host === each.instance || one.answers === each.instance);
  return [
    meant ? number(each.instance).trim() : "",
    each.clashing ? "sent" : "",
    each.answers >= 0 ? `answers ${named(each.answers)}` : "",
    each.tilted ? TILTED : "",
    each.host >= 0 ? `on ${named(each.host)}` : "",
    ...each.keywords.map((key) => game.keywords.find((word) => word.toLowerCase() === key) ?? key),
  ].filter(Boolean);
}
