// The worths of stats and effects, and budgets, as sheets, with the previewed set map next to them.

import { Trash2 } from "lucide-react";
import { useMemo, useState } from "react";
import { useAddress } from "../../state/address";
import { useMarks } from "../../state/history";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { CellSheet, LAST, type Put, type SheetColumn, type SheetRow, type Stand } from "../../ui/CellSheet";
import { Picking, Ticking } from "../../ui/Typing";
import * as requests from "../api";
import {
  budgetColumns,
  budgetRows,
  EFFECT_COLUMNS,
  effectRows,
  rowOf,
  STAT_COLUMNS,
  statRows,
  TIMES_COLUMNS,
  timesRows,
  Unreadable,
  type Verb,
  withBudgets,
  withEffects,
  withStats,
  withTimes,
} from "../priceSheet";
import type { SheetFocus, SheetName } from "../types";
import type { PriceRow, Prices, Write } from "../useParts";
import { PricePreview } from "./PricePreview";
import { EqualRows, Missing } from "./PriceProblems";
import "../worths.css";

type Props = { prices: Prices; verbs: Verb[]; cues: string[]; write: Write };

export function WorthsEditor({ prices, verbs, cues, write }: Props) {
  const game = useGame((state) => state.game);
  const marks = useMarks();
  const [params] = useAddress();
  const [drafted, setDrafted] = useState<Prices | null>(null);
  const [standing, setStanding] = useState<SheetFocus | null>(() => asked(params.get("row")));
  const [since, setSince] = useState("");
  /** What was typed last and says nothing: the cell is as it was. */
  const [slip, setSlip] = useState<string | null>(null);
  const [grab, setGrab] = useState(0);
  const [onlyChanged, setOnlyChanged] = useState(false);
  const touched = useTouched("game", "card");
  const mark = marks.some((each) => each.id === since) ? since : "";
  const shown = drafted ?? prices;
  const row = standing ? askedRow(standing) : null;
  const { found: look, trouble } = useAsked(
    game
      ? () =>
          requests.lookAtThePrices({
            params: { path: { game_id: game.id } },
            body: { value: shown as never, row, since: mark || null },
          })
      : null,
    [game?.id, shown, row, mark, touched],
  );
  const knows = useMemo(() => game && { game, verbs, cues }, [game, verbs, cues]);
  if (!game || !knows) return null;

  const put = (next: Prices) => {
    setDrafted(null);
    setSlip(null);
    void write("prices", next);
  };
  /** What is typed shows at once; what says nothing shows nothing yet. */
  const sheet = (name: SheetName, make: (puts: Put[]) => Prices) => ({
    stand: standing?.sheet === name ? standing.at : null,
    setStand: (at: Stand | null) => setStanding(at && { sheet: name, at }),
    put: (puts: Put[]): string | undefined => {
      try {
        const next = make(puts);
        put(next);
        // A row that was renamed is still the one stood on, whatever name it got.
        const place = prices.rows.findIndex((each) => each.id === standing?.at.row);
        const now = next.rows[place]?.id;
        if (name === "effects" && standing && now !== undefined && now !== standing.at.row)
          setStanding({ sheet: name, at: { ...standing.at, row: now } });
        // The row that was begun in the last line, under the name it got.
        const begun = puts.some((each) => each.row === LAST) && next.rows.length > prices.rows.length;
        return begun ? next.rows.at(-1)?.id : undefined;
      } catch (error) {
        setDrafted(null);
        if (!(error instanceof Unreadable)) throw error;
        setSlip(error.message);
        return undefined;
      }
    },
    draft: (one: Put | null) => {
      if (!one) return setDrafted(null);
      try {
        setDrafted(make([one]));
      } catch (error) {
        if (!(error instanceof Unreadable)) throw error;
      }
    },
  });
  const remove = (id: string) => put({ ...prices, rows: prices.rows.filter((each) => each.id !== id) });
  const changed = mark && onlyChanged ? look?.changed : null;
  const only = (rows: SheetRow[], ids: string[] | null | undefined) =>
    ids ? rows.filter((each) => ids.includes(each.id)) : rows;
  const effects = effectRows(prices, knows, look, remove, <Trash2 size={14} aria-hidden="true" />);
  const addRow = (one: PriceRow) => {
    put({
      ...prices,
      rows: [...prices.rows, { ...one, curve: { each: "1", flat: null, until: null, further: "0", table: [] } }],
    });
    setStanding({ sheet: "effects", at: { row: one.id, column: "each" } });
    setGrab((before) => before + 1);
  };

  return (
    <div className="worths">
      <div className="worths-sheets">
        {(slip || trouble) && (
          <p className="worths-slip" role="alert">
            <b className="needs">{slip ?? trouble?.detail}</b> —{" "}
            {slip ? "write a number such as 0.75, or one of the choices; the cell is as it was" : trouble?.mend}
          </p>
        )}
        <Troubles look={look} prices={prices} card={params.get("card")} put={put} addRow={addRow} />
        <div className="worths-pair">
          <section>
            <h3>Stats</h3>
            <CellSheet
              label="Worth of a point"
              rows={only(statRows(prices, game, look), changed?.stats)}
              columns={STAT_COLUMNS}
              empty="No number field besides the cost."
              {...sheet("stats", (puts) => withStats(prices, puts))}
            />
          </section>
          <div className="worths-against">
            <Picking
              label="Compared with"
              value={mark}
              options={[["", "what is written"], ...marks.map((each) => [each.id, `the mark ${each.name}`] as const)]}
              commit={setSince}
            />
            {mark && <Ticking label="only what changed since" value={onlyChanged} commit={setOnlyChanged} />}
          </div>
        </div>
        <section>
          <h3>Effects, for the one who plays them</h3>
          <CellSheet
            label="Worth of effects"
            rows={only(effects, changed && [...changed.rows])}
            columns={EFFECT_COLUMNS}
            remove={remove}
            grab={grab}
            empty="No worth of an effect changed since."
            {...sheet("effects", (puts) => withEffects(prices, puts, knows))}
          />
        </section>
        <section>
          <h3>What a cost buys</h3>
          <CellSheet
            label="Budgets"
            rows={only(budgetRows(prices, game, look), changed?.budgets.map(rowOf))}
            columns={budgetColumns(prices, game) as SheetColumn[]}
            empty="No budget changed since."
            {...sheet("budgets", (puts) => withBudgets(prices, puts))}
          />
          <p className="soft worths-note">
            An empty cell follows from those before it; a type with no line of its own has that of every type.
          </p>
        </section>
        <section>
          <h3>What multiplies, what is fair</h3>
          <CellSheet
            label="Multipliers"
            rows={timesRows(prices, cues)}
            columns={TIMES_COLUMNS}
            {...sheet("times", (puts) => withTimes(prices, puts))}
          />
        </section>
      </div>
      <PricePreview
        look={look}
        prices={shown}
        drafted={drafted !== null}
        since={marks.find((each) => each.id === mark)?.name ?? null}
        standing={standing ?? { sheet: "budgets", at: { row: rowOf(firstBudget(shown)), column: "" } }}
        draft={setDrafted}
        put={put}
      />
    </div>
  );
}

type TroublesProps = {
  look: Parameters<typeof effectRows>[2];
  prices: Prices;
  card: string | null;
  put: (next: Prices) => void;
  addRow: (row: PriceRow) => void;
};

/** What the list can't price: rows that match equally well, effects that none matches, likely slips. */
function Troubles({ look, prices, card, put, addRow }: TroublesProps) {
  if (!look || !(look.equal.length || look.unpriced.length || look.notes.length)) return null;
  return (
    <div className="worths-troubles">
      {look.equal.map((each) => (
        <EqualRows
          key={each.rows.join("\n")}
          equal={each}
          win={(row) => put({ ...prices, rows: prices.rows.map((one) => (one.id === row.id ? row : one)) })}
        />
      ))}
      {look.unpriced.length > 0 && <Missing unpriced={look.unpriced} card={card} add={addRow} />}
      {look.notes.map((note) => (
        <p key={note} className="worths-note">
          {note}.
        </p>
      ))}
    </div>
  );
}

/** The row that the server tells the cards of. */
function askedRow({ sheet, at }: SheetFocus): string | null {
  if (sheet === "stats") return `stat:${at.row}`;
  return sheet === "effects" ? `row:${at.row}` : null;
}

/** The type whose budget is shown at first: every type, or one that has its own. */
const firstBudget = (prices: Prices): string => (prices.budgets[""] ? "" : (Object.keys(prices.budgets)[0] ?? ""));

/** A row that a link leads to: `row=NAME` of an effect. */
function asked(name: string | null): SheetFocus | null {
  return name ? { sheet: "effects", at: { row: name, column: "each" } } : null;
}
