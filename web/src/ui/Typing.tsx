// Inputs that commit on blur or Enter.
import { type ReactNode, useEffect, useId, useRef, useState } from "react";

type LabelledProps = { id: string; label: string; hidden?: boolean | undefined; children: ReactNode };

/** A control under its name; `hidden` controls are named by their aria-label alone. */
export function Labelled({ id, label, hidden, children }: LabelledProps) {
  if (hidden) return <>{children}</>;
  return (
    <span className="labelled">
      <label htmlFor={id}>{label}</label>
      {children}
    </span>
  );
}

type TextProps = {
  label: string;
  value: string;
  /** False: it says nothing that can be taken, and what stood there stands again. */
  commit: (value: string) => unknown;
  hidden?: boolean;
  placeholder?: string;
  className?: string;
  number?: boolean;
  list?: string;
};

/** Esc gives up; leaving or Enter commits. `hidden` names it to those who hear it only. */
export function Typing({ label, value, commit, hidden, placeholder, className, number, list }: TextProps) {
  const id = useId();
  const [text, setText] = useState(value);
  /** What is being typed is not written over by what comes in late. */
  const typing = useRef(false);
  /** What was last written from here: leaving writes it no second time. */
  const written = useRef<string | null>(null);
  useEffect(() => {
    if (!typing.current) setText(value);
  }, [value]);
  const write = () => {
    typing.current = false;
    if (text === value || text === written.current) return;
    written.current = text;
    if (commit(text) === false) setText(value);
  };
  return (
    <Labelled id={id} label={label} hidden={hidden}>
      <input
        id={id}
        className={`input ${number ? "num-input" : ""} ${className ?? ""}`}
        aria-label={hidden ? label : undefined}
        inputMode={number ? "numeric" : undefined}
        dir="auto"
        list={list}
        placeholder={placeholder}
        value={text}
        onChange={(event) => {
          typing.current = true;
          written.current = null;
          setText(event.target.value);
        }}
        onBlur={() => {
          write();
          written.current = null;
        }}
        onKeyDown={(event) => {
          // Enter writes and stays where it is, so that the next key is heard.
          if (event.key === "Enter" && !event.nativeEvent.isComposing) write();
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

type CountProps = {
  label: string;
  value: number | null;
  commit: (value: number | null) => void;
  /** What nothing means; without it a number has to stand there. */
  none?: string;
  hidden?: boolean;
};

/** A whole number of 0 or more. */
export function Counting({ label, value, commit, none, hidden }: CountProps) {
  return (
    <Typing
      label={label}
      number
      {...(hidden ? { hidden } : {})}
      {...(none === undefined ? {} : { placeholder: none })}
      value={value === null ? "" : String(value)}
      commit={(text) => {
        if (none !== undefined && !text.trim()) return commit(null);
        if (!/^\s*\d{1,9}\s*$/.test(text)) return false;
        return commit(Number(text));
      }}
    />
  );
}

type PickProps = {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  commit: (value: string) => void;
  hidden?: boolean;
  disabled?: boolean;
};

export function Picking({ label, value, options, commit, hidden, disabled }: PickProps) {
  const id = useId();
  return (
    <Labelled id={id} label={label} hidden={hidden}>
      <select
        id={id}
        className="select"
        aria-label={hidden ? label : undefined}
        value={value}
        disabled={disabled}
        onChange={(event) => commit(event.target.value)}
      >
        {options.map(([option, name]) => (
          <option key={option} value={option}>
            {name}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

type TickProps = { label: string; value: boolean; commit: (value: boolean) => void; help?: string };

export function Ticking({ label, value, commit, help }: TickProps) {
  return (
    <label className="form-check" title={help}>
      <input type="checkbox" checked={value} onChange={(event) => commit(event.target.checked)} /> {label}
    </label>
  );
}
