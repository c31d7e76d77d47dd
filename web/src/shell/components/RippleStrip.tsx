// The strip at the bottom: the ripples of the last edit, and what needs attention.
import { lazy, type ReactElement, Suspense } from "react";
import { Link, useParams } from "react-router";
import type { Ripple } from "../../state/client";
import { fetched } from "../../state/retry";
import { hush, useGame } from "../../state/store";
import { unsavedIn } from "../../state/unsaved";
import { counted } from "../../ui/plural";
import { points } from "../../ui/Verdict";
import { EditStrength, MeasureEdits, useMeasuringEdits } from "./EditStrength";

const Hover = lazy(() => fetched(() => import("../../ui/Hover")).then((room) => ({ default: room.Hover })));

export function RippleStrip() {
  const ripples = useGame((state) => state.ripples);
  const notice = useGame((state) => state.notice);
  const connected = useGame((state) => state.connected);
  const away = useGame((state) => state.away);
  const saving = useGame((state) => state.saving);
  const game = useGame((state) => state.game);
  const [measuring, turn] = useMeasuringEdits();
  const latest = ripples[0];
  return (
    <footer className={`ripples ${notice ? "ripples-needs" : ""}`} aria-label="Ripples">
      <div className="ripples-said" role="status" aria-live="polite">
        {notice ? (
          <NoticeLine />
        ) : away ? (
          <>
            <b className="needs">The server can't be reached.</b>
            <span>
              {counted(saving, "edit waits", "edits wait")} on this page and {saving === 1 ? "is" : "are"} sent once it
              is back. You can go on typing.
            </span>
          </>
        ) : latest ? (
          <>
            <RippleLine ripple={latest} />
            {measuring && <EditStrength ripple={latest} />}
          </>
        ) : (
          <span className="soft">What your edit affects appears here.</span>
        )}
      </div>
      {game && <MeasureEdits on={measuring} turn={turn} />}
      {!connected && !away && <span className="needs">Connection lost; trying again…</span>}
      <Saved />
    </footer>
  );
}

/** Whether all that was typed is written; where something is not, the way to the first of it. */
function Saved() {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const unsaved = useGame((state) => state.unsaved);
  const saving = useGame((state) => state.saving);
  const places = unsavedIn(game, cards, unsaved);
  const [first] = places;
  const away = useGame((state) => state.away);
  if (away) return <span className="needs saved">{counted(saving, "edit waits", "edits wait")}</span>;
  if (saving > 0) return <span className="soft saved">Saving…</span>;
  if (!game || !first) return <span className="soft saved">All saved</span>;
  const [card, field] = first;
  return (
    <Link to={`/${game.id}/cards?card=${card}&field=${field}`} state={{ stand: true }} className="needs saved">
      {counted(places.length, "value not saved", "values not saved")}
    </Link>
  );
}

function NoticeLine() {
  const notice = useGame((state) => state.notice);
  if (!notice) return null;
  const { problem, retry, drop, ways } = notice;
  return (
    <>
      <b className="needs">
        {problem.where ? `${problem.where}: ` : ""}
        {problem.detail}
      </b>
      {problem.theirs != null ? (
        <span>
          theirs <q>{problem.theirs || "empty"}</q>, yours <q>{problem.yours || "empty"}</q>
        </span>
      ) : (
        problem.mend && <span>{problem.mend}.</span>
      )}
      {retry && (
        <button type="button" className="small-button" onClick={retry}>
          {problem.theirs != null ? "Write mine" : "Try again"}
        </button>
      )}
      {ways?.map(([words, go]) => (
        <button key={words} type="button" className="small-button" onClick={go}>
          {words}
        </button>
      ))}
      <button type="button" className="small-button" onClick={drop ?? hush}>
        {ways ? "Not now" : problem.theirs != null ? "Keep theirs" : drop ? "Discard my change" : "Dismiss"}
      </button>
    </>
  );
}

/** So many decks are named; of more the number is told. */
const NAMED_DECKS = 2;

function RippleLine({ ripple }: { ripple: Ripple }) {
  const { game = "" } = useParams();
  const [only] = ripple.cards;
  const many = ripple.card_count > 1;
  const seen = ripple.cards.filter((card) => card.face === "re-laid").length;
  const more = ripple.card_count - ripple.cards.length;
  // Of an edit that touches many cards the first are compared; when all of those changed, the rest did too.
  const relaid = more > 0 && seen === ripple.cards.length ? ripple.card_count : seen;
  // Of many only those that fitted before: an edit of worths has no part in the others.
  const overfull = ripple.cards.filter((card) => card.fits === false && !(many && card.fitted === false));
  const faulty = ripple.cards.filter((card) => card.faults.some((kind) => kind !== "overflow"));
  const broken = ripple.decks.filter((deck) => deck.was_legal && !deck.legal);
  const mended = ripple.decks.filter((deck) => !deck.was_legal && deck.legal);
  // What was printed anew since is stale no more: the strip says what holds now.
  const papers = useGame((state) => state.standings);
  const stale = ripple.cards.reduce(
    (sum, card) =>
      card.stale > 0 && papers[card.card] && papers[card.card]?.paper !== "stale" ? sum : sum + card.stale,
    0,
  );
  const same = ripple.decks.length - broken.length - mended.length;
  return (
    <>
      {/* An edit of the rules that reaches one card is told by its own name first. */}
      {only && !many && !only.edits.length && <b>{ripple.label}:</b>}
      {only && !many ? (
        <Named card={only.card}>
          <Link to={`/${game}/cards?card=${only.card}`} className="ripple-name">
            {only.title}
          </Link>
        </Named>
      ) : (
        <b>{ripple.label}</b>
      )}
      {only && !many && only.edits.length > 0 && <span>{only.edits.join(", ")}.</span>}
      {many && <span>{counted(ripple.card_count, "card")}.</span>}
      {relaid > 0 && (
        <span>
          {counted(relaid, "face")}
          {more > 0 && relaid < ripple.card_count ? " or more" : ""} re-laid
        </span>
      )}
      {faulty.length > 0 && (
        <Link to={`/${game}/faces?strip=proof&card=${faulty[0]?.card}`} className="needs">
          {faulty.length === 1 ? "the proof finds a new fault" : `the proof finds new faults on ${faulty.length} faces`}
        </Link>
      )}
      {stale !== 0 && (
        <Link to={`/${game}/output`} className={stale > 0 ? "needs" : "holds"}>
          {counted(Math.abs(stale), "printed copy", "printed copies")} {stale > 0 ? "out of date" : "up to date again"}
        </Link>
      )}
      {overfull.length > 0 && (
        <Link to={`/${game}/cards?card=${overfull[0]?.card}`} className="needs">
          {overfull.length === 1 && !many
            ? "text no longer fits"
            : `text does not fit ${counted(overfull.length, "face")}`}
        </Link>
      )}
      {only?.after && !many && (
        <Link to={`/${game}/balance?card=${only.card}`}>
          {only.before &&
          (only.before.difference !== only.after.difference || only.before.judgement !== only.after.judgement) ? (
            <>
              verdict {said(only.before)} →{" "}
              <b className={`verdict verdict-${only.after.judgement}`}>{said(only.after)}</b>
            </>
          ) : (
            <>verdict {said(only.after)}</>
          )}
        </Link>
      )}
      {many && ripple.verdicts > 0 && (
        <Link to={`/${game}/balance`}>{counted(ripple.verdicts, "verdict changed", "verdicts changed")}</Link>
      )}
      {broken.slice(0, NAMED_DECKS).map((deck) => (
        <Link key={deck.deck} to={`/${game}/decks?deck=${deck.deck}`} className="needs">
          {deck.name} is now illegal: {deck.why}
        </Link>
      ))}
      {broken.length > NAMED_DECKS && (
        <Link to={`/${game}/decks`} className="needs">
          and {broken.length - NAMED_DECKS} more decks are illegal
        </Link>
      )}
      {mended.slice(0, NAMED_DECKS).map((deck) => (
        <Link key={deck.deck} to={`/${game}/decks?deck=${deck.deck}`} className="holds">
          {deck.name} is now legal
        </Link>
      ))}
      {mended.length > NAMED_DECKS && (
        <span className="holds">and {mended.length - NAMED_DECKS} more are legal again</span>
      )}
      {same > 0 && <span className="soft">{counted(same, "deck as before", "decks as before")}</span>}
    </>
  );
}

function said(standing: { judgement: string; difference: number }): string {
  return standing.judgement === "open" ? "undecided" : `${points(standing.difference)} ${standing.judgement}`;
}

/** The name of a card: its face is shown with it once what shows faces has come. */
function Named({ card, children }: { card: string; children: ReactElement }) {
  return (
    <Suspense fallback={children}>
      <Hover card={card} side="top">
        {children}
      </Hover>
    </Suspense>
  );
}
