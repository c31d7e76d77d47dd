// The effect language being typed: mistakes underlined where they are, names offered while typing.
import {
  acceptCompletion,
  autocompletion,
  type Completion,
  type CompletionContext,
  closeCompletion,
  completionStatus,
  moveCompletionSelection,
  selectedCompletion,
  startCompletion,
} from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { type Diagnostic, setDiagnostics } from "@codemirror/lint";
import { Compartment, EditorState, Prec } from "@codemirror/state";
import { drawSelection, EditorView, keymap, placeholder } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { useEffect, useRef, useState } from "react";
import type { Card, Game, Sheet } from "../state/client";
import { useGame } from "../state/game";

type Words = Game["words"];
const BARE = /^[\p{L}][\p{L}\p{N}'’-]*$/u;

/** Colours each word by its part in the line; the parts are the server's to say. */
function language(words: Words) {
  const part = (name: string, word: string) => words[name]?.includes(word) ?? false;
  return StreamLanguage.define({
    token(stream) {
      if (stream.eatSpace()) return null;
      if (stream.match(/"[^"]*"?/)) return "string";
      if (stream.match(/\d+/)) return "number";
      const word = stream.match(/[\p{L}][\p{L}\p{N}'’-]*/u) as RegExpMatchArray | null;
      if (!word) {
        stream.next();
        return "punctuation";
      }
      const text = word[0].toLowerCase();
      if (part("cues", text) || part("moments", text)) return "keyword";
      if (part("verbs", text)) return "operatorKeyword";
      return part("others", text) ? "modifier" : "variableName";
    },
  });
}

const colours = syntaxHighlighting(
  HighlightStyle.define([
    { tag: tags.keyword, color: "var(--effect-cue)", fontWeight: "600" },
    { tag: tags.operatorKeyword, color: "var(--effect-verb)", fontWeight: "600" },
    { tag: tags.modifier, color: "var(--soft)" },
    { tag: tags.number, color: "var(--effect-number)" },
    { tag: tags.string, color: "var(--effect-name)" },
    { tag: tags.variableName, color: "var(--effect-name)" },
  ]),
);

/** Stands in an empty field: said to be an example, and looking like none of a card's own words. */
const EXAMPLE = "No effect yet. For example: upon play this: draw 1";

/** With the list open and nothing chosen in it, Tab takes its first. */
function acceptFirst(editor: EditorView): boolean {
  return (
    completionStatus(editor.state) === "active" && moveCompletionSelection(true)(editor) && acceptCompletion(editor)
  );
}

const look = EditorView.theme({
  ".cm-scroller": {
    fontFamily: '"Source Sans 3 Variable", sans-serif',
    fontSize: "14.5px",
    lineHeight: "1.5",
    padding: "3px 2px",
  },
  "&.cm-focused": { outline: "none" },
  ".cm-placeholder": { color: "var(--soft)", fontStyle: "italic" },
});

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
  const view = useRef<EditorView | null>(null);
  const now = useRef({ onFocus, onType, onCommit, leave, value });
  now.current = { onFocus, onType, onCommit, leave, value };
  const naming = useRef(new Compartment());

  // biome-ignore lint/correctness/useExhaustiveDependencies: one editor a card; what changes comes by the ref
  useEffect(() => {
    if (!holder.current || live === "no") return;
    const made = new EditorView({
      parent: holder.current,
      state: EditorState.create({
        doc: value,
        extensions: [
          history(),
          drawSelection(),
          EditorView.lineWrapping,
          game ? language(game.words) : [],
          look,
          colours,
          placeholder(EXAMPLE),
          EditorView.contentAttributes.of({
            id: "editor-effect",
            "aria-label": `Effect of ${card.title}, one ability a line`,
            spellcheck: "false",
          }),
          naming.current.of(game ? names(game) : []),
          Prec.highest(
            keymap.of([
              { key: "Tab", run: (editor) => acceptCompletion(editor) || acceptFirst(editor) },
              // A new line, unless one moved into the list on purpose.
              { key: "Enter", run: (editor) => selectedCompletion(editor.state) !== null && acceptCompletion(editor) },
              { key: "ArrowDown", run: moveCompletionSelection(true) },
              { key: "ArrowUp", run: moveCompletionSelection(false) },
              { key: "Ctrl-Space", run: startCompletion },
              {
                key: "Escape",
                // Closes the suggestions; then leaves, and what was typed is kept.
                run: (editor) => {
                  if (closeCompletion(editor)) return true;
                  now.current.leave();
                  return true;
                },
              },
              {
                key: "Mod-Enter",
                run: () => {
                  now.current.leave();
                  return true;
                },
              },
            ]),
          ),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          EditorView.updateListener.of((update) => {
            if (update.docChanged && update.view.hasFocus) now.current.onType(update.state.doc.toString());
          }),
          EditorView.domEventHandlers({
            focus: () => now.current.onFocus(),
            blur: (_, editor) => now.current.onCommit(editor.state.doc.toString()),
          }),
        ],
      }),
    });
    view.current = made;
    if (live === "stepped in") {
      made.dispatch({ selection: { anchor: made.state.doc.length } });
      made.focus();
    }
    return () => {
      made.destroy();
      view.current = null;
    };
  }, [live]);

  // What was committed elsewhere (undo, another window) comes in while nobody types here.
  useEffect(() => {
    const editor = view.current;
    if (editor && !editor.hasFocus && editor.state.doc.toString() !== value) {
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
    }
  }, [value]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: an editor that has just come has no marks yet
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const lines = editor.state.doc.lines;
    const found = problems.flatMap((problem): Diagnostic[] => {
      if (!problem.span || problem.span.line > lines) return [];
      const line = editor.state.doc.line(problem.span.line);
      const from = Math.min(line.to, line.from + problem.span.column - 1);
      const to = Math.min(line.to, from + problem.span.length);
      const back = from === to ? Math.max(line.from, from - 1) : from;
      return [{ from: back, to: Math.max(to, from), severity: "error", message: `${problem.what}: ${problem.mend}` }];
    });
    editor.dispatch(setDiagnostics(editor.state, found));
  }, [problems, live]);

  const mend = (problem: Sheet["problems"][number]) => {
    const editor = view.current;
    if (!editor || !problem.span || !problem.nearest) return;
    const line = editor.state.doc.line(problem.span.line);
    const from = line.from + problem.span.column - 1;
    const insert = BARE.test(problem.nearest) ? problem.nearest : `"${problem.nearest}"`;
    editor.focus();
    editor.dispatch({
      changes: { from, to: Math.min(line.to, from + problem.span.length), insert },
      userEvent: "input",
    });
  };

  return (
    <>
      <div className={`effect-editor ${problems.length ? "effect-wrong" : ""}`}>
        {live === "no" ? (
          <div
            id="editor-effect"
            className="effect-still"
            role="textbox"
            aria-multiline="true"
            aria-label={`Effect of ${card.title}, one ability a line`}
            tabIndex={0}
            onFocus={() => setLive("stepped in")}
          >
            {value ? coloured(value, game?.words) : <span className="effect-example">{EXAMPLE}</span>}
          </div>
        ) : (
          <div ref={holder} />
        )}
      </div>
      {problems.length > 0 && (
        <ul className="problems">
          {problems.slice(0, 4).map((problem) => (
            <li key={`${problem.span?.line}-${problem.span?.column}-${problem.what}`}>
              <span className="place">
                line {problem.span?.line}, {problem.span?.column}
              </span>{" "}
              <b className="needs">{problem.what}</b> — {problem.mend}
              {problem.nearest && (
                <button
                  type="button"
                  className="small-button"
                  onMouseDown={(event) => event.preventDefault()}
                  onClick={() => mend(problem)}
                >
                  Write {problem.nearest}
                </button>
              )}
            </li>
          ))}
          <li className="soft">The last good version prints and plays until this is fixed.</li>
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

/** Words of the language and the game's own names, offered while typing. */
function names(game: Game) {
  const reserved = new Set(Object.values(game.words).flat());
  const quoted = (name: string) => (BARE.test(name) && !reserved.has(name.toLowerCase()) ? name : `"${name}"`);
  const own = Object.entries(game.names).flatMap(([kind, all]) =>
    all.map((name): Completion => ({ label: quoted(name), detail: kind, type: "variable" })),
  );
  const verbs = new Set(game.words.verbs);
  const words = [...reserved].map(
    (word): Completion => ({ label: word, type: "keyword", boost: verbs.has(word) ? 1 : 0 }),
  );
  const beginnings = (game.words.moments ?? []).map((moment) => `upon ${moment} this: `);
  const lines = [...beginnings, "always: raise "].map((label): Completion => ({ label, type: "text", boost: 9 }));
  return autocompletion({
    icons: false,
    activateOnTyping: true,
    selectOnOpen: false,
    defaultKeymap: false,
    override: [
      (context: CompletionContext) => {
        const word = context.matchBefore(/[\p{L}\p{N}'’-]+/u);
        if (!word && !context.explicit) return null;
        const from = word?.from ?? context.pos;
        const opening = context.state.doc.lineAt(from).from === from;
        return { from, options: opening ? lines : [...words, ...own], validFor: /^[\p{L}\p{N}'’-]*$/u };
      },
    ],
  });
}
