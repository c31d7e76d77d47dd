// Inputs of the inspector: numbers with units, colours that can follow a choice field.
import { useEffect, useId, useRef, useState } from "react";
import { useGame } from "../../state/store";
import { Labelled } from "../../ui/Typing";
import { inUnit, toMm } from "../usePlans";

type FigureProps = {
  label: string;
  value: number | null;
  unit?: string;
  /** Called while it is typed, and with null when that ends without a value. */
  look?: (value: number | null) => void;
  commit: (value: number) => void;
  step?: number;
  hidden?: boolean;
  placeholder?: string;
  empty?: () => void;
};

/** A figure: looked at while typing, written on Enter or leaving; arrow keys step it. */
export function Figure({ label, value, unit = "", look, commit, step = 0.5, hidden, placeholder, empty }: FigureProps) {
  const id = useId();
  const shown = value === null ? "" : String(unit === "mm" || unit === "in" ? inUnit(value, unit) : round(value));
  const [text, setText] = useState(shown);
  /** What was committed already: leaving after Enter is no second edit. */
  const sent = useRef<string | null>(null);
  useEffect(() => {
    setText(shown);
    sent.current = null;
  }, [shown]);
  const read = (said: string): number | null => {
    const number = Number(said.trim().replace(",", "."));
    return said.trim() === "" || !Number.isFinite(number) ? null : toMm(number, unit);
  };
  const leave = () => {
    if (text === shown) return look?.(null);
    const number = read(text);
    if (number === null) {
      if (text.trim() === "" && empty) empty();
      else setText(shown);
      look?.(null);
    } else {
      sent.current = text;
      commit(number);
    }
  };
  const bump = (by: number) => {
    const next = (read(text) ?? value ?? 0) + toMm(by, unit);
    setText(String(unit ? inUnit(next, unit) : round(next)));
    look?.(next);
  };
  return (
    <Labelled id={id} label={unit ? `${label}, ${unit}` : label} hidden={hidden}>
      <input
        id={id}
        className="input figure"
        aria-label={hidden ? label : undefined}
        inputMode="decimal"
        placeholder={placeholder}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          const number = read(event.target.value);
          if (number !== null) look?.(number);
        }}
        onBlur={() => sent.current !== text && leave()}
        onKeyDown={(event) => {
          if (event.key === "Enter") leave();
          else if (event.key === "Escape") {
            setText(shown);
            look?.(null);
            event.stopPropagation();
          } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
            event.preventDefault();
            const large = event.shiftKey ? 10 : 1;
            bump((event.key === "ArrowUp" ? step : -step) * large);
          }
        }}
      />
    </Labelled>
  );
}

const round = (value: number): number => Math.round(value * 1000) / 1000;

type ColourProps = { label: string; value: string; commit: (value: string) => void; none?: boolean; back?: boolean };

/** A colour of its own, none, or the colour of the card's value in a choice field, lighter or darker. */
export function Colour({ label, value, commit, none, back }: ColourProps) {
  const id = useId();
  const game = useGame((state) => state.game);
  const fields = (game?.fields ?? []).filter((field) => field.kind === "choice");
  const match = /^@([a-z][a-z0-9-]*?)([+-]\d{1,2})?$/.exec(value);
  const source = match ? `@${match[1]}` : value ? "own" : "none";
  const shade = Number(match?.[2] ?? 0);
  return (
    <Labelled id={id} label={label}>
      <span className="tint">
        <select
          id={id}
          className="select"
          value={source}
          onChange={(event) => {
            const next = event.target.value;
            commit(next === "own" ? "#23281f" : next === "none" ? "" : next);
          }}
        >
          {(none || source === "none") && <option value="none">none</option>}
          <option value="own">one colour</option>
          {fields.map((field) => (
            <option key={field.id} value={`@${field.id}`}>
              by {field.name}
            </option>
          ))}
          {(back || source === "@back") && <option value="@back">of the back</option>}
        </select>
        {source === "own" && <Swatch label={label} value={value} commit={commit} />}
        {match && (
          <Figure
            label={`${label}: lighter or darker, per cent`}
            hidden
            value={shade}
            step={5}
            commit={(next) => {
              const kept = Math.max(-99, Math.min(99, Math.round(next)));
              commit(`@${match[1]}${kept > 0 ? `+${kept}` : kept < 0 ? kept : ""}`);
            }}
          />
        )}
      </span>
    </Labelled>
  );
}

export function Swatch({ label, value, commit }: { label: string; value: string; commit: (value: string) => void }) {
  const [held, setHeld] = useState(value);
  useEffect(() => setHeld(value), [value]);
  return (
    <input
      type="color"
      className="swatch"
      aria-label={`${label}: colour`}
      value={held}
      onChange={(event) => setHeld(event.target.value)}
      onBlur={() => held !== value && commit(held)}
    />
  );
}
