import { Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Card, Sheet } from "../state/client";
import { dropUnsaved, editField, placeOf, takeCardOut, useGame } from "../state/game";
import type { Typed } from "../state/sheet";
import { SheetFace } from "../ui/Face";
import { Verdict } from "../ui/Verdict";
import { EffectEditor } from "./EffectEditor";
import { Ledger } from "./Ledger";

type Props = {
  card: Card;
  sheet: Sheet | null;
  field: string;
  setField: (field: string) => void;
  preview: (typed: Typed) => void;
  leave: () => void;
};

/** The card one stands on: its live face on the mat, its effect, its price. */
export function CardPane({ card, sheet, field, setField, preview, leave }: Props) {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const unsaved = useGame((state) => state.unsaved);
  if (!game) return null;
  /** What the field holds, or what was typed into it and could not be written. */
  const shown = (id: string) => unsaved[placeOf(card.id, id)]?.text ?? card.values[id] ?? "";
  const roles = game.roles;
  const type = game.types.find((each) => each.id === card.type);
  const drawn =
    field === roles.printed && !card.values[roles.printed ?? "printed"]
      ? roles.effect
      : field === roles.effect && sheet?.overridden
        ? roles.printed
        : field;
  const inDecks = decks.filter((deck) => deck.cards[card.id]);
  const commit = (id: string, text: string) => {
    if (text === (card.values[id] ?? "") && unsaved[placeOf(card.id, id)]) dropUnsaved(card.id, id);
    if (text !== shown(id)) void editField(card.id, id, text).finally(() => preview(null));
    else preview(null);
  };
  return (
    <aside className="pane" aria-label={`Card ${card.title}`}>
      <div className="pane-mat mat">
        <div className="pane-face" data-active={drawn}>
          {sheet ? <SheetFace sheet={sheet} /> : <div className="face-blank" />}
          {drawn && (
            <style>{`.pane-face [data-field="${CSS.escape(drawn)}"] > .hold { stroke: var(--madder-bright); stroke-width: 0.55; }`}</style>
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
          {sheet && !sheet.written && <p className="flag">behaviour not written</p>}
          {sheet?.overridden && sheet.written && <p className="flag flag-quiet">own printed text</p>}
          {sheet && !sheet.fits && <p className="flag">text does not fit the face</p>}
          <p className="on-mat-soft">
            {inDecks.length ? `in ${inDecks.map((deck) => deck.name).join(", ")}` : "in no deck"}
          </p>
          <div className="pane-actions">
            <Link className="mat-button" to={`/${game.id}/decks?card=${card.id}`}>
              Put in a deck
            </Link>
            <button
              type="button"
              className="mat-button"
              onClick={() => void takeCardOut(card.id)}
              title="Take this card out of the game; undo brings it back"
            >
              <Trash2 size={13} aria-hidden="true" /> Take out
            </button>
          </div>
        </div>
      </div>
      <div className="pane-scroll">
        <section className="pane-part" aria-label="Effect">
          <h3>Effect</h3>
          <EffectEditor
            card={card}
            value={shown(roles.effect ?? "effect")}
            problems={(sheet?.problems ?? []).filter((problem) => problem.where === "effect")}
            onFocus={() => setField(roles.effect ?? "effect")}
            onType={(text) => preview({ card: card.id, field: roles.effect ?? "effect", text })}
            onCommit={(text) => commit(roles.effect ?? "effect", text)}
            leave={leave}
          />
          <OwnText
            key={card.id}
            value={shown(roles.printed ?? "printed")}
            card={card}
            field={roles.printed ?? "printed"}
            onFocus={setField}
            preview={preview}
            commit={commit}
            leave={leave}
          />
          <Others sheet={sheet} />
        </section>
        {sheet && <Ledger sheet={sheet} active={field} />}
      </div>
    </aside>
  );
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

type OwnProps = {
  card: Card;
  value: string;
  field: string;
  onFocus: (field: string) => void;
  preview: (typed: Typed) => void;
  commit: (field: string, text: string) => void;
  leave: () => void;
};

/** The designer's own printed words; empty means that the generated ones stand. */
function OwnText({ card, value, field, onFocus, preview, commit, leave }: OwnProps) {
  const [text, setText] = useState(value);
  const [open, setOpen] = useState(text !== "");
  useEffect(() => setText(value), [value]);
  return (
    <div className="own-text">
      <label htmlFor={`editor-${field}`} className={open ? "" : "soft"}>
        Own printed text {text ? "(stands instead of the generated text)" : "(the text is generated from the effect)"}
      </label>
      <textarea
        id={`editor-${field}`}
        className="input"
        rows={open ? 2 : 1}
        value={text}
        placeholder="Leave empty to print the generated text"
        onFocus={() => {
          setOpen(true);
          onFocus(field);
        }}
        onChange={(event) => {
          setText(event.target.value);
          preview({ card: card.id, field, text: event.target.value });
        }}
        onBlur={() => commit(field, text)}
        onKeyDown={(event) => {
          if (event.key === "Escape") {
            setText(value);
            preview(null);
            leave();
          } else if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) leave();
        }}
      />
    </div>
  );
}
