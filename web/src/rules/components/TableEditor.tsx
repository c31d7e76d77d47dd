// Table settings: hand, draw pile, payment, and the names of turn and zones.
import { Counting, Picking, Typing } from "../../ui/Typing";
import type { Resource, TableDoc, Write } from "../useParts";

const ZONES = [
  ["draw", "The draw pile is called", "draw pile"],
  ["hand", "The hand is called", "hand"],
  ["discard", "The discard pile is called", "discard pile"],
  ["play", "Cards in play lie in", "in play"],
] as const;

export function TableEditor({ table, resources, write }: { table: TableDoc; resources: Resource[]; write: Write }) {
  const put = (part: Partial<TableDoc>) => void write("table", { ...table, ...part });
  return (
    <>
      <h3>Cards in hand</h3>
      <div className="form form-row">
        <Counting
          label="Opening hand"
          value={table.opening_hand}
          commit={(opening_hand) => put({ opening_hand: opening_hand ?? table.opening_hand })}
        />
        <Counting
          label="Drawn each turn"
          value={table.turn_draw}
          commit={(turn_draw) => put({ turn_draw: turn_draw ?? table.turn_draw })}
        />
        <Counting
          label="Hand limit"
          none="none"
          value={table.hand_limit}
          commit={(hand_limit) => put({ hand_limit })}
        />
        <Picking
          label="When the draw pile is empty"
          value={table.empty_draw_pile}
          options={[
            ["reshuffle", "the discard pile is shuffled into it"],
            ["nothing", "nothing is drawn"],
            ["lose", "who has to draw has lost"],
          ]}
          commit={(empty) => put({ empty_draw_pile: empty as TableDoc["empty_draw_pile"] })}
        />
      </div>
      <h3>Paying</h3>
      <div className="form form-row">
        <Picking
          label="Cards are paid with"
          value={table.pays ?? ""}
          options={[["", "nothing: they are free"], ...resources.map((each) => [each.id, each.names] as const)]}
          commit={(pays) => put({ pays: pays || null })}
        />
      </div>
      <h3>Names</h3>
      <div className="form form-row">
        <Typing label="A turn is called" value={table.turn} commit={(turn) => put({ turn })} />
        <Typing label="Leaving play is called" value={table.dismiss} commit={(dismiss) => put({ dismiss })} />
        {ZONES.map(([zone, label, plain]) => (
          <Typing
            key={zone}
            label={label}
            placeholder={plain}
            value={table.zones[zone] ?? ""}
            commit={(text) => {
              const zones = { ...table.zones, [zone]: text.trim() };
              if (!text.trim()) delete zones[zone];
              put({ zones });
            }}
          />
        ))}
      </div>
    </>
  );
}
