// Asks for a game's name; a refusal is shown next to it, and the text stays.
import { useState } from "react";
import type { Problem } from "../../state/client";
import { SheetDialog, SheetFoot } from "../../ui/Sheet";
import { ProblemNote } from "./ProblemNote";

type Props = {
  title: string;
  about?: string;
  label: string;
  act: string;
  value?: string;
  placeholder?: string;
  /** Whether a name will do; any that is not blank, without it. */
  does?: (name: string) => boolean;
  trouble: Problem | null;
  busy: boolean;
  done: (name: string) => void;
  cancel: () => void;
  children?: React.ReactNode;
};

export function NameDialog({ title, about, label, act, value = "", placeholder, does, ...rest }: Props) {
  const [name, setName] = useState(value);
  const ready = !!name.trim() && !rest.busy && (does?.(name) ?? true);
  return (
    <SheetDialog open setOpen={(open) => !open && rest.cancel()} title={title} {...(about ? { about } : {})}>
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) rest.done(name);
        }}
      >
        {rest.children}
        <label>
          {label}
          <input
            className="input"
            data-first
            dir="auto"
            value={name}
            maxLength={200}
            placeholder={placeholder}
            onFocus={(event) => event.target.select()}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
      </form>
      <ProblemNote of={rest.trouble} />
      <SheetFoot act={act} ready={ready} onAct={() => rest.done(name)} cancel={rest.cancel} />
    </SheetDialog>
  );
}
