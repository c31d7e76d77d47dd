// The query as chips and an input, with completions from the server and errors in place.

import { X } from "lucide-react";
import { forwardRef, useEffect, useImperativeHandle, useMemo, useRef, useState } from "react";
import type { Schemas } from "../../state/client";
import { queriesOf } from "../../state/examples";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import * as requests from "../api";
import type { FoundState } from "../useFound";

type Offer = Schemas["OfferOut"];

const NONE: Offer[] = [];
type Props = {
  chips: string[];
  setChips: (chips: string[]) => void;
  draft: string;
  setDraft: (draft: string) => void;
  /** What the server says of the query. */
  found: Pick<FoundState, "problem" | "parts" | "answered">;
  leave: () => void;
  /** What it is called, and says while it is empty, where it is not the one of the cards. */
  label?: string;
  hint?: string;
};

export const whole = (chips: string[], draft: string): string => [...chips, draft.trim()].filter(Boolean).join(" ");

export const QueryBar = forwardRef<HTMLInputElement, Props>(function QueryBar(props, outer) {
  const { chips, setChips, draft, setDraft, found, leave, label = "Query", hint } = props;
  const { problem, parts, answered } = found;
  const opened = useGame((state) => state.game);
  const game = opened?.id ?? "";
  const example = useMemo(
    () =>
      queriesOf(opened)
        .map((each) => `${each}, `)
        .join(""),
    [opened],
  );
  const input = useRef<HTMLInputElement>(null);
  useImperativeHandle(outer, () => input.current as HTMLInputElement);
  const [marked, setMarked] = useState(-1);
  const [open, setOpen] = useState(false);
  const [tried, setTried] = useState(false);
  const query = whole(chips, draft);
  const lead = whole(chips, "").length + (chips.length ? 1 : 0);

  const asking = async () => {
    const caret = Math.min(input.current?.selectionStart ?? draft.length, draft.length);
    const path = { game_id: game };
    return {
      of: draft,
      list: await requests.offer({ params: { path, query: { query: draft, caret } } }),
    };
  };
  const offered = useAsked<{ of: string; list: Offer[] }>(open ? asking : null, [draft, open, game]).found;
  const offers = offered?.list ?? NONE;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another list
  useEffect(() => setMarked(-1), [offered]);

  const stands = problem && answered === query ? problem : null;
  // A name that is still being typed, and that can still become one, is no mistake yet.
  const last = stands?.span ? stands.span.column - 1 + stands.span.length : 0;
  const unfinished = open && offers.length > 0 && draft !== "" && last >= query.length && !tried;
  const wrong = unfinished ? null : stands;
  const settle = () => {
    setTried(true);
    setOpen(false);
    if (stands || !draft.trim()) return;
    const fresh =
      answered === query ? parts.filter((part) => part.start >= lead).map((part) => part.text) : [draft.trim()];
    setChips([...chips, ...fresh]);
    setDraft("");
  };
  const take = (offer: Offer) => {
    // More may have been typed since the list was asked for: the word that it completes goes on to the end by now.
    const late = offered?.of !== draft;
    const word = draft.slice(offer.start).toLowerCase();
    if (late && !(draft.startsWith(offered?.of ?? "") && offer.text.toLowerCase().startsWith(word))) return;
    const next = `${draft.slice(0, offer.start)}${offer.text} ${late ? "" : draft.slice(offer.end).trimStart()}`;
    setDraft(next);
    setOpen(true);
    requestAnimationFrame(() => input.current?.focus());
  };
  const press = (event: React.KeyboardEvent) => {
    const offer = offers[marked];
    // Once a query stands, down leads into the cards; the list comes again with the next key.
    if (event.key === "ArrowDown" && !open && !draft) leave();
    else if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      setOpen(true);
      setMarked(Math.max(-1, Math.min(offers.length - 1, marked + (event.key === "ArrowDown" ? 1 : -1))));
    } else if ((event.key === "Enter" || event.key === "Tab") && open && offer) take(offer);
    else if (event.key === "Enter") settle();
    else if (event.key === "Tab" && open && draft.trim() && offers[0] && offers[0].start < offers[0].end)
      take(offers[0]);
    else if (event.key === "Backspace" && !draft && chips.length) {
      setDraft(chips.at(-1) ?? "");
      setChips(chips.slice(0, -1));
    } else if (event.key === "Escape" && open && offers.length) setOpen(false);
    else if (event.key === "Escape" && draft) setDraft("");
    else if (event.key === "Escape") leave();
    else return;
    event.preventDefault();
  };
  const span = wrong?.span;
  return (
    <div className="query">
      <div className={`query-line input ${wrong ? "query-wrong" : ""}`}>
        {chips.map((chip, place) => (
          <span key={`${chip}-${place}`} className="query-chip">
            <button
              type="button"
              className="query-chip-text"
              title="Change this condition"
              onClick={() => {
                setChips(chips.filter((_, other) => other !== place));
                setDraft(chip);
                input.current?.focus();
              }}
            >
              {chip}
            </button>
            <button
              type="button"
              className="query-chip-out"
              aria-label={`Remove: ${chip}`}
              onClick={() => setChips(chips.filter((_, other) => other !== place))}
            >
              <X size={12} aria-hidden="true" />
            </button>
          </span>
        ))}
        <input
          ref={input}
          className="query-input"
          placeholder={chips.length ? "" : (hint ?? `Find: a word, ${example}unfinished …`)}
          aria-label={label}
          role="combobox"
          aria-expanded={open && offers.length > 0}
          aria-controls="query-offers"
          aria-activedescendant={marked >= 0 ? `query-offer-${marked}` : undefined}
          aria-invalid={wrong ? true : undefined}
          aria-describedby={wrong ? "query-problem" : undefined}
          autoComplete="off"
          spellCheck={false}
          value={draft}
          onFocus={() => setOpen(true)}
          onBlur={() => setOpen(false)}
          onChange={(event) => {
            setOpen(true);
            setTried(false);
            setDraft(event.target.value);
          }}
          onKeyDown={press}
        />
      </div>
      {(wrong || (open && offers.length > 0)) && (
        <div className="query-below">
          {wrong && (
            <p id="query-problem" className="query-problem" role="status">
              {span && (
                <code>
                  {query.slice(Math.max(0, span.column - 24), span.column - 1)}
                  <mark>{query.slice(span.column - 1, span.column - 1 + span.length) || " "}</mark>
                  {query.slice(span.column - 1 + span.length, span.column + 24)}
                </code>
              )}
              <b className="needs">{wrong.what}</b> — {wrong.mend}
              {wrong.nearest && span && span.column - 1 >= lead && (
                <button
                  type="button"
                  className="small-button"
                  onMouseDown={(event) => {
                    event.preventDefault();
                    const from = span.column - 1 - lead;
                    setDraft(`${draft.slice(0, from)}${wrong.nearest}${draft.slice(from + span.length)}`);
                  }}
                >
                  Write {wrong.nearest}
                </button>
              )}
            </p>
          )}
          {open && offers.length > 0 && (
            <div id="query-offers" role="listbox" aria-label="Suggestions" className="query-offers">
              {offers.map((offer, place) => (
                <div
                  key={`${offer.kind} ${offer.text}`}
                  id={`query-offer-${place}`}
                  role="option"
                  tabIndex={-1}
                  aria-selected={place === marked}
                  className="query-offer"
                  onMouseDown={(event) => {
                    event.preventDefault();
                    take(offer);
                  }}
                >
                  <span className="query-offer-text">{offer.text}</span>
                  <span className="soft">{offer.help || offer.kind}</span>
                </div>
              ))}
            </div>
          )}
        </div>
      )}
    </div>
  );
});
