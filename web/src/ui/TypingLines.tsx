// A text of several lines that commits when it is left, or on Ctrl+Enter.
import { useEffect, useId, useRef, useState } from "react";
import { Labelled } from "./Typing";

type Props = { label: string; value: string; commit: (value: string) => unknown };

/** Escape gives up. What is being typed is not replaced by what arrives meanwhile. */
export function TypingLines({ label, value, commit }: Props) {
  const id = useId();
  const [text, setText] = useState(value);
  const typing = useRef(false);
  useEffect(() => {
    if (!typing.current) setText(value);
  }, [value]);
  const write = () => {
    typing.current = false;
    if (text !== value) commit(text);
  };
  return (
    <Labelled id={id} label={label}>
      <textarea
        id={id}
        className="input code-lines"
        rows={Math.max(2, Math.min(8, text.split("\n").length))}
        dir="auto"
        spellCheck={false}
        value={text}
        onChange={(event) => {
          typing.current = true;
          setText(event.target.value);
        }}
        onBlur={write}
        onKeyDown={(event) => {
          if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) write();
          else if (event.key === "Escape") {
            typing.current = false;
            setText(value);
            event.stopPropagation();
          }
        }}
      />
    </Labelled>
  );
}
