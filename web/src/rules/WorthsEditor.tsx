// What a point of a stat is worth, what a cost buys for each card type, and what counts as fair.
import { useGame } from "../state/store";
import { Typing } from "../ui/Typing";
import { PriceRows } from "./PriceRows";
import { type Budget, type Prices, pointsOf, type Write } from "./useParts";

const COSTS = 11;
const NONE: Budget = { by_cost: ["0"], further: "0", rarity: {} };

type Props = { prices: Prices; verbs: string[]; cues: string[]; write: Write };

export function WorthsEditor({ prices, verbs, cues, write }: Props) {
  const game = useGame((state) => state.game);
  if (!game) return null;
  const put = (part: Partial<Prices>) => void write("prices", { ...prices, ...part });
  const numbers = game.fields.filter(
    (field) => field.kind === "number" && field.id !== game.roles.cost && field.id !== game.roles.copies,
  );
  const types = game.types;
  const shared = prices.budgets[""] !== undefined || !Object.keys(prices.budgets).length;
  const rows = shared ? [{ id: "", name: "Every type" }, ...types] : types;
  const budget = (type: string, next: Budget | null) => {
    const budgets = { ...prices.budgets };
    if (next) budgets[type] = next;
    else delete budgets[type];
    put({ budgets });
  };
  return (
    <>
      <h3>Worth of a point</h3>
      <div className="form form-row">
        {numbers.map((field) => (
          <Typing
            key={field.id}
            label={field.name}
            number
            placeholder="not priced"
            value={prices.stats[field.id] ?? ""}
            commit={(text) => {
              const stats = { ...prices.stats };
              if (text.trim()) stats[field.id] = pointsOf(text, stats[field.id] ?? "0");
              else delete stats[field.id];
              put({ stats });
            }}
          />
        ))}
        {!numbers.length && <span className="soft">No number field besides the cost.</span>}
      </div>
      <h3>Worth of effects, for the one who plays them</h3>
      <PriceRows rows={prices.rows} verbs={verbs} cues={cues} put={(next) => put({ rows: next })} />
      <h3>What a cost buys, in points</h3>
      <div className="budgets" tabIndex={0} role="region" aria-label="Budgets">
        <table>
          <thead>
            <tr>
              <th scope="col">{game.roles.cost ? "Cost" : "Type"}</th>
              {Array.from({ length: COSTS }, (_, cost) => (
                <th key={cost} scope="col" className="num">
                  {cost}
                </th>
              ))}
              <th scope="col">each further</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((type) => {
              const held = prices.budgets[type.id];
              const now = held ?? NONE;
              return (
                <tr key={type.id}>
                  <th scope="row">{type.name}</th>
                  {Array.from({ length: COSTS }, (_, cost) => (
                    <td key={cost}>
                      <Typing
                        hidden
                        number
                        label={`${type.name} at cost ${cost}`}
                        placeholder={held ? straight(now, cost) : ""}
                        value={held?.by_cost[cost] ?? ""}
                        commit={(text) => budget(type.id, filled(held, cost, text))}
                      />
                    </td>
                  ))}
                  <td>
                    <Typing
                      hidden
                      number
                      label={`${type.name}, each further cost`}
                      value={held ? now.further : ""}
                      commit={(text) => budget(type.id, { ...now, further: pointsOf(text, now.further) })}
                    />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <p className="soft">
        An empty cell follows from the ones before it. A type without a line of its own has that of every type.
      </p>
      <h3>Fair</h3>
      <div className="form form-row">
        <Typing
          label="Within so many points"
          number
          value={prices.tolerance}
          commit={(text) => put({ tolerance: pointsOf(text, prices.tolerance) })}
        />
      </div>
    </>
  );
}

/** The budget with one cost typed in: what lies before it is filled up straight, emptied from the end it grows shorter. */
function filled(held: Budget | undefined, cost: number, text: string): Budget | null {
  const now = held ?? { ...NONE, by_cost: [] };
  if (!text.trim()) {
    const rest = now.by_cost.slice(0, cost);
    return rest.length ? { ...now, by_cost: rest } : null;
  }
  const by_cost = [...now.by_cost];
  while (by_cost.length < cost) by_cost.push(by_cost.length ? straight({ ...now, by_cost }, by_cost.length) : "0");
  by_cost[cost] = pointsOf(text, by_cost[cost] ?? "0");
  return { ...now, by_cost };
}

/** Where the line goes on beyond its table. */
function straight(budget: Budget, cost: number): string {
  const last = budget.by_cost.length - 1;
  if (last < 0 || cost <= last) return "";
  return String(Number(budget.by_cost[last]) + Number(budget.further) * (cost - last));
}
