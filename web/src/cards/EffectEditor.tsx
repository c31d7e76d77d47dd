// The effect of the card at hand: plain text while one walks by, an editor of our language once one stays.
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { Card, Game, Sheet } from "../state/client";
import { fetched } from "../state/fetched";
import { useGame } from "../state/store";
import { EXAMPLE } from "./effectText";
import type { EffectView } from "./effectView";

type Words = Game["words"];

const editor = () => fetched(() => import("./effectView"));

type Props = {
  card: Card;
  value: string;
  problems: Sheet["problems"];
  onFocus: () => void;
  onType: (text: string) => void;
  onCommit: (text: string) => void;
  leave: () => void;
};

/** While one walks from card to card the effect is plain text; the editor comes once one stays, or steps into it. */
const STAYS = 140;

export function EffectEditor(props: Props) {
  return <OneEffect key={props.card.id} {...props} />;
}

function OneEffect({ card, value, problems, onFocus, onType, onCommit, leave }: Props) {
  const game = useGame((state) => state.game);
  const [live, setLive] = useState<"no" | "yes" | "stepped in">("no");
  useEffect(() => {
    const timer = setTimeout(() => setLive((before) => (before === "no" ? "yes" : before)), STAYS);
    return () => clearTimeout(timer);
  }, []);
  const holder = useRef<HTMLDivElement>(null);
  const [view, setView] = useState<EffectView | null>(null);
  const now = useRef({ onFocus, onType, onCommit, leave, value });
  now.current = { onFocus, onType, onCommit, leave, value };
  /** Keys that are pressed while the editor is still on its way. */
  const early = useRef("");
  const steppedIn = live === "stepped in";
  const begun = live !== "no";

  // Begun once: stepping in while it is on its way must not make a second one, what was typed in the first would go.
  // biome-ignore lint/correctness/useExhaustiveDependencies: one editor a card; what changes comes by the ref
  useEffect(() => {
    if (!begun) return;
    let mine: EffectView | null = null;
    let gone = false;
    void editor().then(({ effectView }) => {
      if (gone || !holder.current) return;
      mine = effectView({
        parent: holder.current,
        doc: now.current.value,
        label: `Effect of ${card.title}, one ability a line`,
        game,
        told: () => now.current,
      });
      const came = mine;
      // At once: never two of one name on the page.
      flushSync(() => setView(came));
    });
    return () => {
      gone = true;
      mine?.destroy();
      setView(null);
    };
  }, [begun]);

  // Once it can be seen it takes the focus over, with the keys that came before it.
  useLayoutEffect(() => {
    if (view && steppedIn) view.stepIn(early.current);
  }, [view, steppedIn]);
  // What was committed elsewhere (undo, another window) comes in while nobody types here.
  useEffect(() => view?.follow(value), [value, view]);
  useEffect(() => view?.mark(problems), [problems, view]);

  return (
    <>
      <div className={`effect-editor ${problems.length ? "effect-wrong" : ""}`}>
        {!view && (
          <div
            id="editor-effect"
            className="effect-still"
            role="textbox"
            aria-multiline="true"
            aria-label={`Effect of ${card.title}, one ability a line`}
            tabIndex={0}
            onFocus={() => setLive("stepped in")}
            onKeyDown={(event) => {
              if (event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
              early.current += event.key;
              event.preventDefault();
            }}
          >
            {value ? coloured(value, game?.words) : <span className="effect-example">{EXAMPLE}</span>}
          </div>
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
