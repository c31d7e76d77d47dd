// The clash settings, with an example of two cards.
import { useGame } from "../../../state/store";
import { Face } from "../../../ui/Face";
import { Picking, Ticking } from "../../../ui/Typing";
import type { Resource } from "../../useParts";
import type { ClashDoc, PlayDoc } from "../playDoc";
import type { EditPlay, PlayPreview } from "../types";
import { TypeCheckboxes } from "./TypeCheckboxes";

type Props = {
  play: PlayDoc;
  lay: EditPlay;
  resources: Resource[];
  told: PlayPreview["clash"];
  setPair: (pair: { sender?: string; answer?: string }) => void;
};

export function ClashEditor({ play, lay, resources, told, setPair }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const stats = game?.roles.stats ?? [];
  const types = (game?.types ?? []).filter((type) => type.stays);
  const clash = play.clash;
  if (!game) return null;
  if (!clash) {
    const stat = stats[0];
    const total = resources.find((each) => !each.shared)?.id ?? null;
    return (
      <div className="play-empty">
        <p>There is no clash: cards meet only by their effects.</p>
        {stat && types.length > 0 ? (
          <button
            type="button"
            className="button button-main"
            onClick={() =>
              lay({
                clash: {
                  types: types.map((type) => type.id),
                  stat,
                  answers: "one",
                  answer_types: [],
                  hurts: true,
                  excess: "lost",
                  unanswered: total ? "gains" : "nothing",
                  total,
                  points: "stat",
                  in_order: false,
                  on_arrival: false,
                  tilts: true,
                  answer_tilts: false,
                },
              })
            }
          >
            Let cards clash
          </button>
        ) : (
          <p className="soft">For one, cards that stay in play need a stat: choose it under Field roles.</p>
        )}
      </div>
    );
  }
  const set = (part: Partial<ClashDoc>) => lay({ clash: { ...clash, ...part } });
  const able = order.filter((id) => {
    const card = cards[id];
    return card && clash.types.includes(card.type) && Number(card.values[clash.stat] ?? 0) > 0;
  });
  const choices = able.slice(0, 400).map((id) => [id, cards[id]?.title ?? id] as const);
  return (
    <div className="clash-room">
      <div className="clash-settings">
        <TypeCheckboxes
          label="Who clashes"
          none="Nothing can clash."
          chosen={clash.types}
          put={(chosen) => chosen.length && set({ types: chosen })}
        />
        <div className="form form-row">
          <Picking
            label="By what"
            value={clash.stat}
            options={stats.map((stat) => [stat, game.fields.find((field) => field.id === stat)?.name ?? stat] as const)}
            commit={(stat) => set({ stat })}
          />
          <Ticking
            label="also on the turn in which it came"
            value={clash.on_arrival}
            commit={(on_arrival) => set({ on_arrival })}
          />
          <Ticking label="is tilted by it" value={clash.tilts} commit={(tilts) => set({ tilts })} />
        </div>
        <div className="form form-row">
          <Picking
            label="Each is answered by"
            value={clash.answers}
            options={[
              ["one", "one card at most"],
              ["many", "as many as the rival likes"],
              ["none", "nobody"],
            ]}
            commit={(answers) => set({ answers: answers as "one" })}
          />
          {clash.answers !== "none" && (
            <Ticking
              label="who answers is tilted, too"
              value={clash.answer_tilts}
              commit={(answer_tilts) => set({ answer_tilts })}
            />
          )}
        </div>
        {clash.answers !== "none" && (
          <TypeCheckboxes
            label="Who answers"
            none="The same types."
            chosen={clash.answer_types}
            put={(answer_types) => set({ answer_types })}
          />
        )}
        <div className="form form-row">
          <Picking
            label="Not answered"
            value={clash.unanswered}
            options={[
              ["gains", "its player gains"],
              ["loses", "the rival loses"],
              ["nothing", "counts for nothing"],
            ]}
            commit={(unanswered) =>
              set({
                unanswered: unanswered as "gains",
                total: unanswered === "nothing" ? null : (clash.total ?? resources[0]?.id ?? null),
              })
            }
          />
          {clash.unanswered !== "nothing" && (
            <>
              <Picking
                label="How much"
                value={clash.points}
                options={[
                  ["stat", "as much as its stat"],
                  ["one", "one each"],
                ]}
                commit={(points) => set({ points: points as "stat" })}
              />
              <Picking
                label="Of"
                value={clash.total ?? ""}
                options={resources.map((each) => [each.id, each.names] as const)}
                commit={(total) => set({ total })}
              />
            </>
          )}
        </div>
        {clash.answers !== "none" && (
          <div className="form form-row">
            <Picking
              label="Answered"
              value={clash.hurts ? "hurts" : "less"}
              options={[
                ["hurts", "they hurt one another"],
                ["less", "the answer's stat is taken off"],
              ]}
              commit={(how) => set({ hurts: how === "hurts" })}
            />
            <Picking
              label="What is left over"
              value={clash.excess}
              options={[
                ["lost", "is lost"],
                ["through", "counts as not answered"],
              ]}
              commit={(excess) => set({ excess: excess as "lost" })}
            />
            <Ticking
              label="one after the other, not at once"
              value={clash.in_order}
              commit={(in_order) => set({ in_order })}
            />
          </div>
        )}
        <button type="button" className="small-button" onClick={() => lay({ clash: null })}>
          No clash in this game
        </button>
      </div>
      <section className="clash-told" aria-label="For example">
        {told ? (
          <>
            <div className="clash-pair">
              {(["sender", "answer"] as const).map((who) => (
                <div key={who}>
                  <Picking
                    label={who === "sender" ? "Clashes" : "Answers"}
                    value={told[who]}
                    options={
                      choices.some(([id]) => id === told[who])
                        ? choices
                        : [[told[who], cards[told[who]]?.title ?? ""], ...choices]
                    }
                    commit={(id) => setPair({ sender: told.sender, answer: told.answer, [who]: id })}
                  />
                  <span className="clash-face">
                    <Face card={told[who]} title={cards[told[who]]?.title ?? ""} />
                  </span>
                </div>
              ))}
            </div>
            {told.lines.map((line) => (
              <p key={line}>{line}</p>
            ))}
          </>
        ) : (
          <p className="soft">No two cards of these types have the stat yet: write some, and they clash here.</p>
        )}
      </section>
    </div>
  );
}
