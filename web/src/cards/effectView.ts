// The effect editor: CodeMirror with our language. Loaded on demand, because the first screen does not need it.
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
import { defaultKeymap, history, historyKeymap, isolateHistory } from "@codemirror/commands";
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from "@codemirror/language";
import { type Diagnostic, setDiagnostics } from "@codemirror/lint";
import { EditorState, Prec, Transaction } from "@codemirror/state";
import { drawSelection, EditorView, keymap, placeholder } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import type { Game, Sheet } from "../state/client";
import { STEP_IN } from "../ui/drawer";
import { BARE, EXAMPLE } from "./effectText";

type Words = Game["words"];
type Problem = Sheet["problems"][number];
type Told = {
  /** The committed text. */
  value: string;
  onFocus: () => void;
  onType: (text: string) => void;
  onCommit: (text: string) => void;
  leave: () => void;
};
type Made = { parent: HTMLElement; doc: string; label: string; game: Game | null; told: () => Told };

/** An effect being edited; `told` hears of it. */
export type EffectView = {
  destroy: () => void;
  /** Takes in what was committed elsewhere, while nobody types here. */
  follow: (text: string) => void;
  /** What was typed, and where the caret was, before the editor was there. */
  takeOver: (typed: { text: string; from: number; to: number }, focus: boolean) => void;
  mark: (problems: Problem[]) => void;
  mend: (problem: Problem) => void;
};

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

export function effectView({ parent, doc, label, game, told }: Made): EffectView {
  const editor = new EditorView({
    parent,
    state: EditorState.create({
      doc,
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
          "aria-label": label,
          spellcheck: "false",
        }),
        game ? names(game) : [],
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
              // Closes the suggestions; then goes back to the committed text, one undo away from what was typed; then leaves.
              run: (editor) => {
                if (closeCompletion(editor)) return true;
                const { value } = told();
                if (editor.state.doc.toString() === value) told().leave();
                else
                  editor.dispatch({
                    changes: { from: 0, to: editor.state.doc.length, insert: value },
                    selection: { anchor: value.length },
                    annotations: isolateHistory.of("full"),
                    userEvent: "revert",
                  });
                return true;
              },
            },
            {
              key: "Mod-Enter",
              run: () => {
                told().leave();
                return true;
              },
            },
          ]),
        ),
        keymap.of([...defaultKeymap, ...historyKeymap]),
        EditorView.updateListener.of((update) => {
          const remote = update.transactions.some((each) => each.annotation(Transaction.remote));
          if (update.docChanged && update.view.hasFocus && !remote) told().onType(update.state.doc.toString());
        }),
        EditorView.domEventHandlers({
          focus: () => told().onFocus(),
          blur: (_, editor) => told().onCommit(editor.state.doc.toString()),
          // Written into its text and not into its page: what it finds written there by others it may put back as it was.
          [STEP_IN]: (event: Event) => {
            stepIn((event as CustomEvent<string>).detail);
            event.preventDefault();
            return true;
          },
        }),
      ],
    }),
  });
  /** The committed text that was shown last. */
  let followed = doc;
  function stepIn(typed: string): void {
    const end = editor.state.doc.length;
    editor.focus();
    editor.dispatch({
      changes: { from: end, insert: typed },
      selection: { anchor: end + typed.length },
      // As if typed, so that it is suggested from; nothing typed is no more than a step.
      userEvent: typed ? "input.type" : "select",
    });
  }
  return {
    destroy: () => editor.destroy(),
    follow: (text) => {
      // Who only has the caret here, and typed nothing, sees what was committed elsewhere, too.
      const untouched = editor.state.doc.toString() === followed;
      if ((!editor.hasFocus || untouched) && editor.state.doc.toString() !== text)
        editor.dispatch({
          changes: { from: 0, to: editor.state.doc.length, insert: text },
          annotations: [Transaction.addToHistory.of(false), Transaction.remote.of(true)],
        });
      followed = text;
    },
    takeOver: ({ text, from, to }, focus) => {
      if (text !== editor.state.doc.toString())
        editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: text }, userEvent: "input.type" });
      editor.dispatch({ selection: { anchor: from, head: to } });
      if (focus) editor.focus();
    },
    mark: (problems) => {
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
    },
    mend: (problem) => {
      if (!problem.span || !problem.nearest) return;
      const line = editor.state.doc.line(problem.span.line);
      const from = line.from + problem.span.column - 1;
      const insert = BARE.test(problem.nearest) ? problem.nearest : `"${problem.nearest}"`;
      editor.focus();
      editor.dispatch({
        changes: { from, to: Math.min(line.to, from + problem.span.length), insert },
        userEvent: "input",
      });
    },
  };
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
  const lines = game.openings.map((label): Completion => ({ label, type: "text", boost: 9 }));
  return autocompletion({
    icons: false,
    activateOnTyping: true,
    selectOnOpen: false,
    // Nothing is chosen unless one moves into the list, so its keys need not wait for it to have been seen.
    interactionDelay: 0,
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
