// Printed copies, and which of them are out of date.

import { Check, Printer, Trash2 } from "lucide-react";
import { Link } from "react-router";
import { useGame } from "../../state/store";
import { change } from "../../state/writing";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import { shortly } from "../../ui/when";
import * as requests from "../api";
import { ALL_CARDS, FRESH, type Jobs, type OnPaper, type PrintOrder } from "../useOutput";

const MOST_NAMED = 6;

/** How a reprint is made: as the run was, of what is stale. */
export function reprintOf(run: OnPaper["runs"][number] | undefined, only: boolean): PrintOrder {
  const before = { ...FRESH.print, ...(run?.order as Partial<PrintOrder> | undefined) };
  return {
    ...before,
    name: "",
    left_out: [],
    blanks: 0,
    labels: "none",
    record: true,
    choice: { ...ALL_CARDS, only: "stale", run: only && run ? run.id : "" },
  };
}

export function OnPaperPart({ paper, work }: { paper: OnPaper | null; work: Jobs }) {
  const game = useGame((state) => state.game?.id ?? "");
  const cards = useGame((state) => state.cards);
  if (!paper) return null;
  if (!paper.runs.length)
    return (
      <section className="on-paper" aria-label="On paper">
        <h2>On paper</h2>
        <p className="soft">
          Nothing is printed yet. Once it is, each edit shows which printed copies are out of date.
        </p>
      </section>
    );
  const { stale } = paper;
  return (
    <section className="on-paper" aria-label="On paper">
      <h2>On paper</h2>
      {stale.length ? (
        <>
          <p className="on-paper-stale">
            <b className="needs">
              {counted(stale.length, "card")} out of date, {counted(paper.stale_copies, "copy", "copies")}
            </b>
            {": "}
            {stale.slice(0, MOST_NAMED).map((id, place) => (
              <span key={id}>
                {place > 0 && ", "}
                <Hover card={id} side="left">
                  <Link to={`/${game}/cards?card=${id}`}>{cards[id]?.title ?? id}</Link>
                </Hover>
              </span>
            ))}
            {stale.length > MOST_NAMED && (
              <>
                {" and "}
                <Link to={`/${game}/cards?q=${encodeURIComponent("stale on paper")}`}>
                  {stale.length - MOST_NAMED} more
                </Link>
              </>
            )}
          </p>
          <button
            type="button"
            className="button output-make"
            onClick={() => void work.begin("print", reprintOf(paper.runs[0], false))}
          >
            <Printer size={14} aria-hidden="true" /> Reprint what is out of date
          </button>
        </>
      ) : (
        <p className="holds on-paper-good">
          <Check size={14} aria-hidden="true" /> What was printed is as the cards are now.
        </p>
      )}
      {paper.unprinted > 0 && (
        <p className="soft">
          <Link to={`/${game}/cards?q=${encodeURIComponent("never printed")}`}>{counted(paper.unprinted, "card")}</Link>{" "}
          never printed
        </p>
      )}
      <ul className="runs" aria-label="Print runs">
        {paper.runs.map((run) => (
          <li key={run.id} className="run">
            <span className="run-name">{run.name}</span>
            <span className="soft run-told">
              {shortly(run.at)} · {counted(run.copies, "copy", "copies")}
              {run.gone > 0 && ` · ${counted(run.gone, "card")} gone since`}
            </span>
            <span className="run-acts">
              {run.stale.length > 0 ? (
                <button
                  type="button"
                  className="small-button"
                  title="Print again what is out of date in this run"
                  onClick={() => void work.begin("print", reprintOf(run, true))}
                >
                  {run.stale.length} stale: reprint
                </button>
              ) : (
                <span className="holds">up to date</span>
              )}
              <button
                type="button"
                className="icon-button"
                aria-label={`Stop tracking the run ${run.name}`}
                title="Copies thrown away: stop tracking"
                onClick={() =>
                  void change((game_id, key) =>
                    requests.takeRunOut({
                      params: { path: { game_id, run_id: run.id }, header: { "idempotency-key": key } },
                    }),
                  )
                }
              >
                <Trash2 size={13} aria-hidden="true" />
              </button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
