// An input that adds a named item.
import { Plus } from "lucide-react";
import { type Dispatch, type RefObject, type SetStateAction, useRef, useState } from "react";

type Props = {
  label: string;
  /** What stands on the button; without it a plus, which is called `adds`. */
  does?: string;
  adds?: string;
  /** Nothing or false where it was refused: what was sent stands there again. */
  add: (name: string) => Promise<unknown>;
  className?: string;
  input?: RefObject<HTMLInputElement | null>;
};

export function NewNameInput({ label, does, adds, add, className, input }: Props) {
  const [name, setName] = useState("");
  const own = useRef<HTMLInputElement>(null);
  const box = input ?? own;
  return (
    <form
      className={className ?? "form-row"}
      onSubmit={(event) => {
        event.preventDefault();
        if (!name.trim()) return;
        // The button is off now and would let the focus fall.
        box.current?.focus();
        sendTyped(name, setName, add);
      }}
    >
      <input
        ref={box}
        className="input"
        aria-label={label}
        placeholder={label}
        dir="auto"
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <button
        type="submit"
        className={does ? "button" : "icon-button"}
        aria-label={does ? undefined : (adds ?? `Add: ${label}`)}
        disabled={!name.trim()}
      >
        {does ?? <Plus size={15} aria-hidden="true" />}
      </button>
    </form>
  );
}

/** Empties a box as its text is sent, so that the next can be typed; what was refused stands there again, unless something newer does. */
export function sendTyped(
  typed: string,
  set: Dispatch<SetStateAction<string>>,
  send: (plain: string) => Promise<unknown>,
): void {
  set("");
  void send(typed.trim()).then((done) => done || set((now) => now || typed));
}
