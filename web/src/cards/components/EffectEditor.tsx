// The effect of the selected card: highlighted text at first, a code editor once the card stays selected.
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { Card, Game, Sheet } from "../../state/client";
import { fetched } from "../../state/retry";
import { useGame } from "../../state/store";
import { STEP_IN } from "../../ui/drawer";
import { EXAMPLE } from "../effectText";
import type { EffectView } from "../effectView";

type Words = Game["words"];

const editor = () => fetched(() => import("../effectView"));

type Props = {
  card: Card;
  value: string;
  problems: Sheet["problems"];
  onFocus: () => void;
  onType: (text: string) => void;
  onCommit: (text: string) => void;
  leave: () => void;
};

/** Ms that a card must stay selected until its effect gets an editor; stepping into the effect brings it at once. */
const STAYS = 140;

export function EffectEditor(props: Props) {
  return <OneEffect key={props.card.id} {...props} />;
}

/** Plain coloured text; a plain text box while the editor is being fetched; then the editor. All three take the same keys. */
function OneEffect({ card, value, problems, onFocus, onType, onCommit, leave }: Props) {
  const game = useGame((state) => state.game);
  const [begun, setBegun] = useState(false);
  /** What is typed in the plain text box. */
  const [early, setEarly] = useState<string | null>(null);
  useEffect(() => {
    const timer = setTimeout(() => setBegun(true), STAYS);
    return () => clearTimeout(timer);
  }, []);
  const holder = useRef<HTMLDivElement>(null);
  const still = useRef<HTMLDivElement>(null);
  const box = useRef<HTMLTextAreaElement>(null);
  const [view, setView] = useState<EffectView | null>(null);
  const now = useRef({ onFocus, onType, onCommit, leave, value });
  now.current = { onFocus, onType, onCommit, leave, value };
  const label = `Effect of ${card.title}, one ability a line`;

  const stepIn = (typed: string) => {
    setEarly((before) => (before ?? now.current.value) + typed);
    setBegun(true);
    if (typed) now.current.onType(now.current.value + typed);
  };
  // Keys that another room hands over with the focus.
  useEffect(() => {
    const element = still.current;
    if (!element) return;
    const take = (event: Event) => {
      event.preventDefault();
      flushSync(() => stepIn((event as CustomEvent<string>).detail));
    };
    element.addEventListener(STEP_IN, take);
    return () => element.removeEventListener(STEP_IN, take);
  });
  useLayoutEffect(() => {
    if (early === null || view || document.activeElement === box.current) return;
    box.current?.focus();
    box.current?.setSelectionRange(early.length, early.length);
  }, [early, view]);

  // Begun once: stepping in while it is on its way must not make a second one, what was typed in the first would go.
  // biome-ignore lint/correctness/useExhaustiveDependencies: one editor a card; what changes comes by the ref
  useEffect(() => {
    if (!begun) return;
    let mine: EffectView | null = null;
    let gone = false;
    void editor().then(({ effectView }) => {
      if (gone || !holder.current) return;
      mine = effectView({ parent: holder.current, doc: now.current.value, label, game, told: () => now.current });
      const came = mine;
      const typed = box.current;
      // What was typed in the plain box goes on in the editor, with its caret, before the next key.
      const handed = typed && { text: typed.value, from: typed.selectionStart, to: typed.selectionEnd };
      const focused = typed !== null && document.activeElement === typed;
      // At once: never two of one name on the page.
      flushSync(() => {
        setView(came);
        setEarly(null);
      });
      if (handed) came.takeOver(handed, focused);
    });
    return () => {
      gone = true;
      mine?.destroy();
      setView(null);
    };
  }, [begun]);

  // What was committed elsewhere (undo, another window) comes in while nobody types here.
  useEffect(() => view?.follow(value), [value, view]);
  useEffect(() => view?.mark(problems), [problems, view]);

  return (
    <>
      <div className={`effect-editor ${problems.length ? "effect-wrong" : ""}`}>
        {!view && early === null && (
          <div
            ref={still}
            id="editor-effect"
            className="effect-still"
            role="textbox"
            aria-multiline="true"
            aria-label={label}
            tabIndex={0}
            onFocus={() => stepIn("")}
          >
            {value ? coloured(value, game?.words) : <span className="effect-example">{EXAMPLE}</span>}
          </div>
        )}
        {!view && early !== null && (
          <textarea
            ref={box}
            id="editor-effect"
            className="effect-still effect-early"
            aria-label={label}
            spellCheck={false}
            rows={Math.max(1, early.split("\n").length)}
            value={early}
            onFocus={onFocus}
            onChange={(event) => {
              setEarly(event.target.value);
              onType(event.target.value);
            }}
            onKeyDown={(event) => {
              if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) leave();
              else if (event.key !== "Escape") return;
              else if (early === value) leave();
              else {
                setEarly(value);
                onType(value);
              }
              event.preventDefault();
            }}
            onBlur={() => onCommit(early)}
          />
        )}
        <div ref={holder} hidden={!view} />
      </div>
      {problems.length > 0 && (
        <ul className="problems">
          {problems.slice(0, 4).map((problem) => (
            <li key={`${problem.span?.line}-${problem.span?.column}-${problem.what}`}>
              {problem.span && (
                <span className="place">
                  line {problem.span.line}, {problem.span.column}{" "}
                </span>
              )}
              <b className="needs">{problem.what}</b> — {problem.mend}
              {problem.nearest && (
                <button
                  type="button"
                  className="small-button"
                  onMouseDown={(event) => event.preventDefault()}
                  onClick={() => view?.mend(problem)}
                >
                  Write {problem.nearest}
                </button>
              )}
            </li>
          ))}
          {problems.some((problem) => problem.span) && (
            <li className="soft">The last good version prints and plays until this is fixed.</li>
          )}
        </ul>
      )}
    </>
  );
}

/** The text in the editor's colours. */
function coloured(text: string, words: Words | undefined) {
  const part = (name: string, word: string) => words?.[name]?.includes(word) ?? false;
  return text.split(/("[^"]*"?|[\p{L}][\p{L}\p{N}'’-]*|\d+)/u).map((piece, place) => {
    const word = piece.toLowerCase();
    const colour = /^\d/.test(piece)
      ? "var(--effect-number)"
      : part("cues", word) || part("moments", word)
        ? "var(--effect-cue)"
        : part("verbs", word)
          ? "var(--effect-verb)"
          : part("others", word)
            ? "var(--soft)"
            : place % 2
              ? "var(--effect-name)"
              : undefined;
    const weight = colour === "var(--effect-cue)" || colour === "var(--effect-verb)" ? 600 : undefined;
    return colour ? (
      <span key={place} style={{ color: colour, fontWeight: weight }}>
        {piece}
      </span>
    ) : (
      piece
    );
  });
}
