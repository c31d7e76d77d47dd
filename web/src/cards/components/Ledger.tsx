import { Link } from "react-router";
import type { Sheet } from "../../state/client";
import { useGame } from "../../state/store";
import { points, Verdict } from "../../ui/Verdict";

/** What has no effect line has nothing to price. */
const UNWRITTEN = "behaviour not written";

/** What the card is worth, what its cost buys, and the difference: the lines sum to it exactly. */
export function Ledger({ sheet, active }: { sheet: Sheet; active: string }) {
  const { ledger } = sheet;
  const game = useGame((state) => state.game?.id ?? "");
  const part = (name: string) => ledger.lines.filter((line) => line.part === name);
  const rows = (name: string) =>
    part(name).map((line, number) => (
      <tr key={`${name}-${number}`} className={line.field === active ? "ledger-on" : ""}>
        <th scope="row">{line.what}</th>
        <td className="soft">
          {line.why}
          {(line.points === null || line.points === undefined) && line.what !== UNWRITTEN && (
            <>
              {" · "}
              <Link to={`/${game}/rules?at=game:prices${rowOf(line.rows) || `&card=${sheet.card}`}`}>price it</Link>
            </>
          )}
        </td>
        <td className="num">
          {line.points === null || line.points === undefined ? (
            <span className="verdict verdict-open">undecided</span>
          ) : (
            points(line.points)
          )}
        </td>
      </tr>
    ));
  return (
    <section className="pane-part" aria-label="Price">
      <h3>Worth and budget</h3>
      <table className="ledger">
        <tbody>{rows("worth")}</tbody>
        <tbody>
          <tr className="ledger-sum">
            <th scope="row">Worth</th>
            <td />
            <td className="num">{points(ledger.worth, false)}</td>
          </tr>
        </tbody>
        <tbody>{rows("budget")}</tbody>
        <tbody>
          <tr className="ledger-sum">
            <th scope="row">Worth minus budget</th>
            <td className="soft">
              {points(ledger.worth, false)} − {points(ledger.budget, false)}
            </td>
            <td className="num">
              <Verdict judgement={ledger.judgement} difference={ledger.difference} long />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  );
}

/** Leads to the row that is open, where there is one. */
const rowOf = (rows: string[] | undefined): string =>
  rows?.length === 1 ? `&row=${encodeURIComponent(rows[0] ?? "")}` : "";
