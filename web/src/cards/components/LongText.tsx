// The editor of a long text, with buttons that insert symbols, bold and italics at the caret.
import { Bold, Italic } from "lucide-react";
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { typing } from "../../state/drafts";
import { useGame } from "../../state/store";
import { SymbolMark } from "../../ui/SymbolMark";

type Props = {
  card: string;
  field: string;
  label: string;
  value: string;
  placeholder: string;
  onFocus: (field: string) => void;
  commit: (field: string, text: string) => void;
  leave: () => void;
};

export function LongText({ card, field, label, value, placeholder, onFocus, commit, leave }: Props) {
  const symbols = useGame((state) => state.game?.symbols ?? []);
  const [text, setText] = useState(value);
  const [open, setOpen] = useState(value !== "");
  const area = useRef<HTMLTextAreaElement>(null);
  /** Where the caret goes once the text that was put in is there: before the next key, or it would land elsewhere. */
  const goTo = useRef<number | null>(null);
  /** The committed text that is shown while nothing was typed since. */
  const followed = useRef(value);
  // Late answers never replace the text being typed.
  useEffect(() => {
    setText((now) => (now === followed.current ? value : now));
    followed.current = value;
  }, [value]);
  useLayoutEffect(() => {
    if (goTo.current === null) return;
    area.current?.focus();
    area.current?.setSelectionRange(goTo.current, goTo.current);
    goTo.current = null;
  });
  const change = (next: string) => {
    setText(next);
    typing({ card, field, text: next });
  };
  /** Puts `before` and `after` round what is selected, or in at the caret. */
  const put = (before: string, after = "") => {
    const box = area.current;
    if (!box) return;
    const { selectionStart: from, selectionEnd: to } = box;
    const middle = text.slice(from, to);
    change(`${text.slice(0, from)}${before}${middle}${after}${text.slice(to)}`);
    const caret = after && !middle ? from + before.length : from + before.length + middle.length + after.length;
    goTo.current = caret;
  };
  return (
    <div
      className="own-text"
      role="group"
      aria-label={label}
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) commit(field, text);
      }}
    >
      <label htmlFor={`editor-${field}`} className={open ? "" : "soft"}>
        {label}
      </label>
      {open && (
        <div className="palette" role="toolbar" aria-label={`Put into ${label}`}>
          <button
            type="button"
            className="icon-button"
            title="Bold (Ctrl+B)"
            aria-label="Bold"
            onClick={() => put("*", "*")}
          >
            <Bold size={13} aria-hidden="true" />
          </button>
          <button
            type="button"
            className="icon-button"
            title="Italic (Ctrl+I)"
            aria-label="Italic"
            onClick={() => put("_", "_")}
          >
            <Italic size={13} aria-hidden="true" />
          </button>
          {symbols.map((symbol) => (
            <button
              key={symbol.id}
              type="button"
              className="icon-button"
              title={`${symbol.name}: {${symbol.id}}`}
              aria-label={`Symbol of ${symbol.name}`}
              onClick={() => put(`{${symbol.id}}`)}
            >
              <SymbolMark symbol={symbol} size={14} />
            </button>
          ))}
        </div>
      )}
      <textarea
        ref={area}
        id={`editor-${field}`}
        className="input"
        dir="auto"
        rows={open ? 2 : 1}
        value={text}
        placeholder={placeholder}
        onFocus={() => {
          setOpen(true);
          onFocus(field);
        }}
        onChange={(event) => change(event.target.value)}
        onKeyDown={(event) => {
          const big = event.ctrlKey || event.metaKey;
          if (event.key === "Enter" && big) leave();
          // Back to the committed text, one undo away from what was typed; then out.
          else if (event.key === "Escape" && text === value) leave();
          else if (event.key === "Escape") {
            event.currentTarget.select();
            document.execCommand("insertText", false, value);
            if (!value) document.execCommand("delete");
          } else if (big && event.key.toLowerCase() === "b") {
            event.preventDefault();
            put("*", "*");
          } else if (big && event.key.toLowerCase() === "i") {
            event.preventDefault();
            put("_", "_");
          }
        }}
      />
    </div>
  );
}
