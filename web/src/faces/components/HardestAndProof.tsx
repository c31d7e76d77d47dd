// Below the canvas: the cards that are hardest for the plan, and the proof of all cards.

import { memo, useEffect, useMemo, useState } from "react";
import { Link } from "react-router";
import { ApiError, isAway, type Schemas } from "../../state/client";
import { useAsked, useOnceBack } from "../../state/query";
import { say, useGame } from "../../state/store";
import { SheetFace } from "../../ui/Face";
import { Hover } from "../../ui/Hover";
import { counted } from "../../ui/plural";
import * as requests from "../api";
import { type Book, type Draft, type Plan, useShown } from "../usePlans";

/** The height of a face in the strip, in pixels. */
const FACE_HIGH = 126;

type StressProps = { plan: Plan; draft: Draft | null; version: string; card: string; show: (card: string) => void };

export const StressStrip = memo(function StressStrip({ plan, draft, version, card, show }: StressProps) {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const { found } = useAsked(
    () =>
      requests.stressStrip({
        params: { path: { game_id: game, plan_id: plan.id } },
      }),
    [game, plan.id, seq],
  );
  const settled = useSettled(draft, 250);
  const hard = found ?? [];
  const shown = useShown(
    hard.length ? plan : null,
    useMemo(() => (found ?? []).map((each) => each.card), [found]),
    settled,
    version,
  );
  if (found && !hard.length)
    return <p className="strip-said">No card wears this plan yet: it is shown with an invented one.</p>;
  const wide = Math.min(140, Math.round(FACE_HIGH * (plan.size.width / plan.size.height)));
  return (
    <ul className="stress">
      {hard.map((each) => {
        const face = shown.find((one) => one.card === each.card);
        return (
          <li key={each.card}>
            <button
              type="button"
              className="stress-card"
              aria-pressed={each.card === card}
              onClick={() => show(each.card)}
              title={`${each.title}: ${each.reasons.join(", ")}`}
            >
              <span className="stress-face" style={{ width: wide }}>
                {face ? <SheetFace sheet={face} /> : <span className="face-blank" />}
              </span>
              <span className="stress-said">
                <b>{each.reasons[0]}</b>
                {each.reasons.length > 1 && <span className="soft-on-mat"> +{each.reasons.length - 1}</span>}
                <span className="stress-title">{each.title}</span>
                {face && face.faults.length > 0 && (
                  <span className="stress-fault">
                    {face.faults.length === 1 ? face.faults[0]?.what : `${counted(face.faults.length, "fault")}`}
                  </span>
                )}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
});

function useSettled<T>(value: T, wait: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), wait);
    return () => clearTimeout(timer);
  }, [value, wait]);
  return settled;
}

const PIECE = 400;
type Found = {
  total: number;
  looked: number;
  cards: Schemas["CardFaultsOut"][];
  counts: Record<string, number>;
  plans: Schemas["ProofOut"]["plans"];
};

/** One pass over all faces, piece by piece; it can be stopped, and what was found stays. */
export function ProofList({ book, choose }: { book: Book; choose: (card: string, place: string) => void }) {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const [found, setFound] = useState<Found | null>(null);
  const [stopped, setStopped] = useState(false);
  const onceBack = useOnceBack();
  const [kind, setKind] = useState("");
  // biome-ignore lint/correctness/useExhaustiveDependencies: an edit may change any face
  useEffect(() => {
    let live = !stopped;
    const go = async () => {
      const sum: Found = { total: 0, looked: 0, cards: [], counts: {}, plans: [] };
      for (let start = 0; live; start += PIECE) {
        const part = await requests.proofOfFaces({
          params: { path: { game_id: game }, query: { start, count: PIECE } },
        });
        if (!live) return;
        sum.total = part.total;
        sum.looked += part.looked;
        sum.cards = [...sum.cards, ...part.cards];
        if (start === 0) sum.plans = part.plans;
        for (const [each, count] of Object.entries(part.counts)) sum.counts[each] = (sum.counts[each] ?? 0) + count;
        setFound({ ...sum });
        if (sum.looked >= sum.total || !part.looked) return;
      }
    };
    go().catch((error: unknown) => {
      onceBack.lost(error);
      if (error instanceof ApiError && !isAway(error)) say(error.problem);
    });
    return () => {
      live = false;
    };
  }, [game, stopped, seq, onceBack.round]);
  if (!found) return <p className="strip-said">Looking through the faces…</p>;
  const running = found.looked < found.total;
  const cards = kind ? found.cards.filter((card) => card.faults.some((fault) => fault.kind === kind)) : found.cards;
  const sum = Object.values(found.counts).reduce((total, count) => total + count, 0);
  return (
    <div className="proof">
      <div className="proof-head">
        <span aria-live="polite">
          {running ? `${found.looked} of ${found.total} faces looked through` : `${found.total} faces looked through`}:{" "}
          <b className={sum ? "proof-needs" : "proof-holds"}>{sum === 0 ? "nothing found" : counted(sum, "fault")}</b>
        </span>
        {running && (
          <button type="button" className="mat-button" onClick={() => setStopped(!stopped)}>
            {stopped ? "Go on" : "Stop"}
          </button>
        )}
        {Object.entries(found.counts).map(([each, count]) => (
          <button
            key={each}
            type="button"
            className="mat-button"
            aria-pressed={kind === each}
            onClick={() => setKind(kind === each ? "" : each)}
          >
            {book.faults[each]} · {count}
          </button>
        ))}
      </div>
      <ul className="proof-list">
        {found.plans.map((each) => (
          <li key={each.plan + each.problem.where + each.problem.what}>
            <b>Plan {each.plan}</b> {each.problem.where}: {each.problem.what}; {each.problem.mend}
          </li>
        ))}
        {cards.slice(0, 300).map((card) => (
          <li key={card.card}>
            <Hover card={card.card} side="top">
              <button
                type="button"
                className="proof-card"
                onClick={() => choose(card.card, card.faults[0]?.place ?? "")}
              >
                {card.title}
              </button>
            </Hover>{" "}
            {card.faults
              .filter((fault) => !kind || fault.kind === kind)
              .map((fault) => (
                <span key={fault.kind + fault.place + fault.what} className="proof-fault" title={fault.mend}>
                  {fault.name}: {fault.what}
                </span>
              ))}
            <Link className="proof-open" to={`/${game}/cards?card=${card.card}`}>
              open the card
            </Link>
          </li>
        ))}
        {cards.length > 300 && <li>… and {cards.length - 300} more cards</li>}
      </ul>
    </div>
  );
}
