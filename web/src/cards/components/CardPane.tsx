import { ChevronRight, Expand, FlipHorizontal2, History, SlidersHorizontal, Trash2 } from "lucide-react";
import { lazy, memo, Suspense, useState } from "react";
import { Link } from "react-router";
import { TryInHand } from "../../playtest/components/TryInHand";
import type { Card, Sheet } from "../../state/client";
import { typing, typingDone } from "../../state/drafts";
import { editField, takeCardOut } from "../../state/edits";
import { useAsked } from "../../state/query";
import { fetched } from "../../state/retry";
import { dropUnsaved, placeOf, useGame } from "../../state/store";
import { SheetFace } from "../../ui/Face";
import { counted } from "../../ui/plural";
import { Verdict } from "../../ui/Verdict";
import * as requests from "../api";
import { AddToDeck } from "./AddToDeck";
import { DeckOdds } from "./DeckOdds";
import { EffectEditor } from "./EffectEditor";
import { Ledger } from "./Ledger";
import { LongText } from "./LongText";
import { Notes } from "./Notes";
import { PictureField } from "./PictureField";

const CardRevisions = lazy(() =>
  fetched(() => import("../../history/components/CardRevisions")).then((room) => ({ default: room.CardRevisions })),
);
const LargeFace = lazy(() => fetched(() => import("./LargeFace")).then((room) => ({ default: room.LargeFace })));
const SweepPart = lazy(() =>
  fetched(() => import("../../balance/components/SweepPart")).then((room) => ({ default: room.SweepPart })),
);
const AdjustDialog = lazy(() =>
  fetched(() => import("../../faces/components/AdjustDialog")).then((room) => ({ default: room.AdjustDialog })),
);

type Props = {
  card: Card;
  sheet: Sheet | null;
  field: string;
  setField: (field: string) => void;
  leave: () => void;
  /** The cards chosen beside it. */
  others?: string[];
};

/** The focused card: live face, effect and price. */
export const CardPane = memo(function CardPane({ card, sheet, field, setField, leave, others = [] }: Props) {
  const game = useGame((state) => state.game);
  const unsaved = useGame((state) => state.unsaved);
  const paper = useGame((state) => state.standings[card.id]?.paper);
  const [turned, setTurned] = useState(false);
  const [large, setLarge] = useState(false);
  const [past, setPast] = useState(false);
  const [adjusting, setAdjusting] = useState(false);
  const back = useBack(game?.id ?? "", turned ? card : null);
  if (!game) return null;
  /** What the field holds, or what was typed into it and could not be written. */
  const shown = (id: string) => unsaved[placeOf(card.id, id)]?.text ?? card.values[id] ?? "";
  const roles = game.roles;
  const type = game.types.find((each) => each.id === card.type);
  const faults = (sheet?.faults ?? []).filter((each) => each.kind !== "overflow");
  const shape = shapeOf(type);
  const drawn =
    field === roles.printed && !card.values[roles.printed ?? "printed"]
      ? roles.effect
      : field === roles.effect && sheet?.overridden
        ? roles.printed
        : field;
  const has = (id: string) => type?.fields.includes(id) ?? false;
  const hasEffect = has(roles.effect ?? "");
  const mine = game.fields.filter((each) => has(each.id) && !(each.hide_empty && !shown(each.id) && field !== each.id));
  const texts = mine.filter((each) => each.kind === "text" && each.long);
  const pictures = mine.filter((each) => each.kind === "picture");
  const commit = (id: string, text: string) => {
    if (text === (card.values[id] ?? "") && unsaved[placeOf(card.id, id)]) dropUnsaved(card.id, id);
    if (text !== shown(id)) void editField(card.id, id, text).finally(() => typingDone(card.id, id, text));
    else typing(null);
  };
  return (
    <aside className="pane" data-pane aria-label={`Card ${card.title}`}>
      <div className="pane-mat mat">
        <div className={`pane-face pane-${shape}`} data-active={drawn}>
          {back ? (
            <div className="face-hold" dangerouslySetInnerHTML={{ __html: back }} />
          ) : sheet ? (
            <SheetFace sheet={sheet} />
          ) : (
            <div className="face-blank" />
          )}
          {drawn && !back && (
            <style>{`.pane-face [data-field="${CSS.escape(drawn)}"] > .hold { stroke: var(--card-focus); stroke-width: 0.55; }`}</style>
          )}
        </div>
        <div className="pane-facts">
          <h2>{card.title}</h2>
          <p className="on-mat-soft">
            {card.code} · {type?.name} · revision {card.revision}
          </p>
          {sheet && (
            <p>
              <Verdict judgement={sheet.ledger.judgement} difference={sheet.ledger.difference} long />
            </p>
          )}
          {sheet && !sheet.written && <p className="flag">effect missing</p>}
          {sheet?.overridden && sheet.written && <p className="flag flag-quiet">own printed text</p>}
          {sheet && !sheet.fits && <p className="flag">text does not fit the face</p>}
          {faults.length > 0 && (
            <p className="flag" title={faults.map((each) => `${each.name}: ${each.what}`).join("\n")}>
              {faults.length === 1
                ? `${faults[0]?.name}: ${faults[0]?.what}`
                : `${counted(faults.length, "fault")} on the face`}
            </p>
          )}
          {paper === "stale" && (
            <p className="flag">
              <Link to={`/${game.id}/output?only=stale&cards=${encodeURIComponent(card.code)}`}>
                out of date on paper
              </Link>
            </p>
          )}
          {Object.keys(sheet?.looks ?? {}).length > 0 && <p className="flag flag-quiet">face adjusted</p>}
          <p className="on-mat-soft">
            <DeckOdds card={card} />
          </p>
          <div className="pane-actions">
            <AddToDeck card={card} />
            <TryInHand card={card.id} className="mat-button pane-main" />
            <button type="button" className="mat-button" aria-pressed={turned} onClick={() => setTurned(!turned)}>
              <FlipHorizontal2 size={13} aria-hidden="true" /> {turned ? "Front" : "Back"}
            </button>
            <button
              type="button"
              className="mat-button"
              onClick={() => setLarge(true)}
              title="The face in reading size"
            >
              <Expand size={13} aria-hidden="true" /> Enlarge
            </button>
            <button
              type="button"
              className="mat-button"
              onClick={() => setAdjusting(true)}
              title="Move this card's picture, or give a text another size"
            >
              <SlidersHorizontal size={13} aria-hidden="true" /> Adjust
            </button>
            <button
              type="button"
              className="mat-button"
              onClick={() => setPast(true)}
              title="What this card was, and going back"
            >
              <History size={13} aria-hidden="true" /> History
            </button>
            <button
              type="button"
              className="mat-button pane-remove"
              onClick={() => void takeCardOut(card.id)}
              title="Remove this card from the game; undo brings it back"
            >
              <Trash2 size={13} aria-hidden="true" /> Remove
            </button>
          </div>
        </div>
      </div>
      {large && sheet && (
        <Suspense>
          <LargeFace title={card.title} shape={shape} sheet={sheet} close={() => setLarge(false)} />
        </Suspense>
      )}
      {adjusting && (
        <Suspense>
          <AdjustDialog card={card.id} title={card.title} close={() => setAdjusting(false)} others={others} />
        </Suspense>
      )}
      {past && (
        <Suspense>
          <CardRevisions card={card.id} title={card.title} close={() => setPast(false)} />
        </Suspense>
      )}
      <div className="pane-scroll">
        <section className="pane-part" aria-label="Effect and texts">
          {hasEffect && <h3>{game.fields.find((field) => field.id === roles.effect)?.name}</h3>}
          {hasEffect && (
            <EffectEditor
              card={card}
              value={shown(roles.effect ?? "effect")}
              problems={(sheet?.problems ?? []).filter((problem) => problem.where === "effect")}
              onFocus={() => setField(roles.effect ?? "effect")}
              onType={(text) => typing({ card: card.id, field: roles.effect ?? "effect", text })}
              onCommit={(text) => commit(roles.effect ?? "effect", text)}
              leave={leave}
            />
          )}
          {texts.map((each) => {
            const own = each.id === roles.printed;
            const stands = shown(each.id) ? "replaces the generated text" : "replaces the generated text";
            return (
              <LongText
                key={`${card.id} ${each.id}`}
                value={shown(each.id)}
                card={card.id}
                field={each.id}
                label={own && roles.effect ? `Own text (${stands})` : each.name}
                placeholder={own && roles.effect ? "Leave empty to print the generated text" : (each.help ?? "")}
                onFocus={setField}
                commit={commit}
                leave={leave}
              />
            );
          })}
          {pictures.map((each) => (
            <PictureField
              key={`${card.id} ${each.id}`}
              label={each.name}
              value={shown(each.id)}
              onFocus={() => setField(each.id)}
              commit={(sha) => void editField(card.id, each.id, sha)}
            />
          ))}
          <Others sheet={sheet} />
        </section>
        {sheet && <Ledger sheet={sheet} active={field} />}
        <Strength key={`strength ${card.id}`} card={card} />
        <Notes key={card.id} card={card} leave={leave} />
      </div>
    </aside>
  );
});

/** A number of the card swept by games: fetched when somebody opens it. */
function Strength({ card }: { card: Card }) {
  const [open, setOpen] = useState(false);
  const game = useGame((state) => state.game?.id ?? "");
  return (
    <section className="pane-part" aria-label="Strength">
      <h3 className="pane-fold">
        <button type="button" className="fold" aria-expanded={open} onClick={() => setOpen(!open)}>
          <ChevronRight size={14} aria-hidden="true" /> Strength by games
        </button>
        {open && <Link to={`/${game}/balance?view=lenses&card=${card.id}`}>In Balance</Link>}
      </h3>
      {open && (
        <Suspense fallback={<p className="soft">Opening…</p>}>
          <SweepPart card={card} />
        </Suspense>
      )}
    </section>
  );
}

/** How a card stands, for the room it is given. */
function shapeOf(type: { width: number; height: number } | undefined): "portrait" | "landscape" | "square" {
  const ratio = type ? type.width / type.height : 0.7;
  return ratio < 0.86 ? "portrait" : ratio > 1.18 ? "landscape" : "square";
}

/** The back of a card as the server draws it, while it is turned. */
function useBack(game: string, card: Card | null): string | null {
  const of = card ? `${card.id}/${card.revision}` : "";
  const asking = async () => {
    const path = { game_id: game, card_id: card?.id ?? "" };
    const face = await requests.back({ params: { path } });
    return { of, svg: face.svg };
  };
  const { found } = useAsked(card ? asking : null, [game, of]);
  return found?.of === of ? found.svg : null;
}

/** Problems that are not of the effect: a field just typed, text that runs off the face. */
function Others({ sheet }: { sheet: Sheet | null }) {
  const problems = (sheet?.problems ?? []).filter((problem) => problem.where !== "effect");
  if (!problems.length) return null;
  return (
    <ul className="problems">
      {problems.map((problem) => (
        <li key={problem.where + problem.what}>
          <b className="needs">
            {problem.where}: {problem.what}
          </b>{" "}
          — {problem.mend}
        </li>
      ))}
    </ul>
  );
}
