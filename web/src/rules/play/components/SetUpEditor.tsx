// Setup: start values, redraw, and compensation for going second.
import { Counting, Picking } from "../../../ui/Typing";
import type { Resource, TableDoc, Write } from "../../useParts";
import type { PlayDoc } from "../playDoc";
import type { EditPlay } from "../types";

type Props = { play: PlayDoc; lay: EditPlay; table: TableDoc; resources: Resource[]; write: Write };

export function SetUpEditor({ play, lay, table, resources, write }: Props) {
  const up = play.set_up;
  const set = (part: Partial<PlayDoc["set_up"]>) => lay({ set_up: { ...up, ...part } });
  return (
    <>
      <h3>The first hand</h3>
      <div className="form form-row">
        <Counting
          label="Opening hand"
          value={table.opening_hand}
          commit={(hand) => void write("table", { ...table, opening_hand: hand ?? table.opening_hand })}
        />
        <Picking
          label="It may be given back"
          value={up.redraw.kind}
          options={[
            ["none", "not at all"],
            ["cards", "once, chosen cards of it"],
            ["hand", "once, the whole of it"],
          ]}
          commit={(kind) => set({ redraw: { ...up.redraw, kind: kind as "none" } })}
        />
        {up.redraw.kind !== "none" && (
          <Picking
            label="What is given back"
            value={up.redraw.returned}
            options={[
              ["before", "is shuffled in before new ones are drawn"],
              ["after", "is shuffled in after new ones are drawn"],
            ]}
            commit={(returned) => set({ redraw: { ...up.redraw, returned: returned as "before" } })}
          />
        )}
      </div>
      {resources.length > 0 && (
        <>
          <h3>At the start there are</h3>
          <div className="form form-row">
            {resources.map((each, at) => (
              <Counting
                key={each.id}
                label={each.shared ? `${each.names}, of the table` : each.names}
                value={each.start}
                commit={(start) =>
                  void write(
                    "resources",
                    resources.map((one, place) => (place === at ? { ...one, start: start ?? one.start } : one)),
                  )
                }
              />
            ))}
          </div>
        </>
      )}
      {play.seats > 1 && (
        <>
          <h3>Who does not go first gets</h3>
          <div className="form form-row">
            <Counting
              label="Cards"
              value={up.second_draws}
              commit={(draws) => set({ second_draws: draws ?? up.second_draws })}
            />
            {resources
              .filter((each) => !each.shared)
              .map((each) => (
                <Counting
                  key={each.id}
                  label={each.names}
                  value={up.second_gains[each.id] ?? 0}
                  commit={(number) => {
                    const gains = { ...up.second_gains, [each.id]: number ?? 0 };
                    if (!gains[each.id]) delete gains[each.id];
                    set({ second_gains: gains });
                  }}
                />
              ))}
          </div>
        </>
      )}
      <p className="soft">Cards that lie out when a match begins are laid under Seats and zones.</p>
    </>
  );
}
