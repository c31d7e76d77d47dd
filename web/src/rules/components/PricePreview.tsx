// Next to the worths: the previewed set map, and the curve of the focused row with the cards that it prices.

import { useState } from "react";
import { Link } from "react-router";
import { SetMap } from "../../balance/components/SetMap";
import { ApiError } from "../../state/client";
import { say, useGame } from "../../state/store";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import { points } from "../../ui/Verdict";
import * as requests from "../api";
import { EVERY, exact, NO_BUDGET, type PricesLook } from "../priceSheet";
import type { Handle, SheetFocus } from "../types";
import type { Budget, Curve, Prices } from "../useParts";
import { LineChart } from "./LineChart";

/** A handle for what goes on stands so far beyond the last. */
const BEYOND = 3;
/** A straight line is taken hold of here. */
const STRAIGHT = 4;
/** A handle moves what is written in the sheet by so many points. */
const STEP = 0.25;

type Props = {
  look: PricesLook | null;
  prices: Prices;
  /** Whether what is shown is only typed so far. */
  drafted: boolean;
  since: string | null;
  standing: SheetFocus;
  draft: (prices: Prices | null) => void;
  put: (prices: Prices) => void;
};

export function PricePreview({ look, prices, drafted, since, standing, draft, put }: Props) {
  const game = useGame((state) => state.game);
  const [stood, setStood] = useState<string | null>(null);
  const moved = look ? Object.keys(look.was).length : 0;
  if (!game) return null;
  const said = drafted
    ? moved
      ? `${counted(moved, "verdict")} would ${since ? `differ from ${since}` : "change"}`
      : "no verdict would change"
    : since && moved
      ? `${counted(moved, "verdict")} moved since ${since}`
      : look
        ? `${counted(look.map.cards.length, "card")}, ${counted(look.map.outliers.length, "outlier")}`
        : "";
  return (
    <aside className="worths-side" aria-label="What the worths do">
      <header className="worths-map-head">
        <h3>Set map</h3>
        <p className={drafted && moved ? "needs" : "soft"} role="status">
          {said}
        </p>
      </header>
      <div className="worths-map">
        {look && <SetMap map={look.map} was={look.was} small stand={stood} setStand={setStood} />}
      </div>
      {standing.sheet === "budgets" ? (
        <BudgetChart standing={standing} prices={prices} look={look} draft={draft} put={put} />
      ) : standing.sheet === "times" ? null : (
        <RowChart standing={standing} prices={prices} look={look} draft={draft} put={put} />
      )}
    </aside>
  );
}

type ChartProps = Pick<Props, "standing" | "prices" | "look" | "draft" | "put">;

/** What a cost buys for the type one stands on: each cost of its table is a handle. */
function BudgetChart({ standing, prices, look, draft, put }: ChartProps) {
  const game = useGame((state) => state.game);
  const type = standing.at.row === EVERY ? "" : standing.at.row.replace(/^type:/, "");
  const name = type ? (game?.types.find((each) => each.id === type)?.name ?? type) : "Every type";
  const own = prices.budgets[type];
  const held = own ?? prices.budgets[""] ?? NO_BUDGET;
  const last = held.by_cost.length - 1;
  const table = held.by_cost.map((each, cost) => ({ x: cost, y: Number(each) }));
  const beyond = { x: last + BEYOND, y: Number(held.by_cost[last]) + BEYOND * Number(held.further) };
  const line = game?.roles.cost ? [...table, beyond] : table;
  const moved = (at: number, y: number): Prices => {
    const next =
      at > last
        ? { ...held, further: exact((y - Number(held.by_cost[last])) / BEYOND) }
        : { ...held, by_cost: held.by_cost.map((each, cost) => (cost === at ? exact(y) : each)) };
    return { ...prices, budgets: { ...prices.budgets, [type]: next } };
  };
  const handles = line.map(
    (place, at): Handle => ({
      ...place,
      label: at > last ? `Each cost beyond ${last}` : `Budget at cost ${place.x}`,
      step: at > last ? BEYOND * STEP : STEP,
    }),
  );
  const cards = (look?.map.cards ?? []).filter((each) =>
    type ? typeOf(each.card) === type : !prices.budgets[typeOf(each.card)],
  );
  /** A budget fitted to the cards, of this type, with these worths. */
  const fit = () =>
    requests
      .fitABudget({
        params: { path: { game_id: game?.id ?? "" } },
        body: { value: prices as never, type },
      })
      .then(
        ({ budget }) => {
          if (budget) put({ ...prices, budgets: { ...prices.budgets, [type]: budget as Budget } });
        },
        (error) => {
          if (!(error instanceof ApiError)) throw error;
          say(error.problem);
        },
      );
  return (
    <section className="worths-curve">
      <h3>
        Budget of {name.toLowerCase()}
        {!own && type ? <span className="soft"> (that of every type)</span> : null}
        <button
          type="button"
          className="small-button worths-fit"
          disabled={!cards.length}
          title="Sets each cost to the median worth of its cards, as a line that never falls"
          onClick={() => void fit()}
        >
          Fit to {counted(cards.length, "card")}
        </button>
      </h3>
      <LineChart
        label={`Budget of ${name}`}
        line={line}
        handles={handles}
        dots={cards.map((each) => ({ x: each.cost, y: each.worth }))}
        across={game?.roles.cost ? "cost" : ""}
        draft={(at, y) => draft(moved(at, y))}
        put={(at, y) => put(moved(at, y))}
        giveUp={() => draft(null)}
      />
    </section>
  );
}

const typeOf = (card: string): string => useGame.getState().cards[card]?.type ?? "";

/** A stat's or an effect's worth: its curve, and the cards that it prices. */
function RowChart({ standing, prices, look, draft, put }: ChartProps) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const stat = standing.sheet === "stats";
  const row = prices.rows.find((each) => each.id === standing.at.row);
  const name = stat ? game?.fields.find((each) => each.id === standing.at.row)?.name : row?.id;
  if (!name || !game) return null;
  const line = (look?.curve ?? []).map((each) => ({ x: each.amount, y: each.points }));
  const curve: Curve | null = stat
    ? prices.stats[standing.at.row] === undefined
      ? null
      : { each: prices.stats[standing.at.row] ?? "0", flat: null, until: null, further: "0", table: [] }
    : (row?.curve ?? null);
  const handles = curve ? handlesOf(curve) : [];
  const moved = (at: number, y: number): Prices => {
    const next = curve && bent(curve, handles[at] as Handle, y);
    if (!next) return prices;
    if (stat) return { ...prices, stats: { ...prices.stats, [standing.at.row]: next.each } };
    return { ...prices, rows: prices.rows.map((each) => (each.id === row?.id ? { ...each, curve: next } : each)) };
  };
  const priced = look?.priced ?? [];
  return (
    <section className="worths-curve">
      <h3>
        {name}
        {row?.private ? <span className="soft"> (private)</span> : null}
      </h3>
      {curve ? (
        <LineChart
          label={`Worth of ${name}`}
          line={line}
          handles={handles}
          dots={[]}
          across={stat ? name.toLowerCase() : "amount"}
          draft={(at, y) => draft(moved(at, y))}
          put={(at, y) => put(moved(at, y))}
          giveUp={() => draft(null)}
        />
      ) : (
        <p className="soft">Undecided: it has no worth yet. Cards with it have no verdict.</p>
      )}
      {look && (
        <p className="worths-count soft">
          {look.priced_count ? `Used in ${counted(look.priced_count, "effect")}` : "No card has it yet."}
        </p>
      )}
      <ul className="worths-cards">
        {priced.slice(0, 60).map((each, at) => (
          <li key={`${each.card} ${at}`}>
            <Hover card={each.card}>
              <Link to={`/${game.id}/cards?card=${each.card}`}>{cards[each.card]?.title ?? each.card}</Link>
            </Hover>
            <span className="soft">{each.what}</span>
            <span className="num">{each.points === null ? "undecided" : points(each.points)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Where a curve can be taken hold of: its table, or its bend and how it goes on. */
function handlesOf(curve: Curve): Handle[] {
  const each = Number(curve.each);
  if (curve.table.length) {
    const last = curve.table.length;
    const end = Number(curve.table[last - 1]);
    return [
      ...curve.table.map((worth, at) => ({ x: at + 1, y: Number(worth), label: `Worth of ${at + 1}`, step: STEP })),
      { x: last + BEYOND, y: end + BEYOND * Number(curve.further), label: `Each beyond ${last}`, step: BEYOND * STEP },
    ];
  }
  if (curve.until === null)
    return [{ x: STRAIGHT, y: STRAIGHT * each, label: `Worth of ${STRAIGHT}`, step: STRAIGHT * STEP }];
  const bend = curve.flat === null ? each * curve.until : Number(curve.flat);
  return [
    {
      x: Math.max(curve.until, 0),
      y: bend,
      label: `Worth of ${curve.until}`,
      step: curve.flat === null ? Math.max(1, curve.until) * STEP : STEP,
    },
    {
      x: curve.until + BEYOND,
      y: bend + BEYOND * Number(curve.further),
      label: `Each beyond ${curve.until}`,
      step: BEYOND * STEP,
    },
  ];
}

/** The curve with one handle moved up or down. */
function bent(curve: Curve, handle: Handle, y: number): Curve {
  const further = (from: number) => exact((y - from) / BEYOND);
  if (curve.table.length) {
    if (handle.x > curve.table.length) return { ...curve, further: further(Number(curve.table.at(-1))) };
    return { ...curve, table: curve.table.map((worth, at) => (at + 1 === handle.x ? exact(y) : worth)) };
  }
  if (curve.until === null) return { ...curve, each: exact(y / STRAIGHT) };
  const bend = curve.flat === null ? Number(curve.each) * curve.until : Number(curve.flat);
  if (handle.x > curve.until) return { ...curve, further: further(bend) };
  if (curve.flat !== null) return { ...curve, flat: exact(y), each: exact(y) };
  return { ...curve, each: exact(y / Math.max(1, curve.until)) };
}
