// Start a named branch from an earlier moment.
import { useState } from "react";

type Props = { at: number; branch: (at: number, name: string) => void };

export function BranchHere({ at, branch }: Props) {
  const [name, setName] = useState<string | null>(null);
  if (name === null)
    return (
      <button type="button" className="mat-button" onClick={() => setName("")}>
        Play on from here
      </button>
    );
  return (
    <form
      className="branch-here"
      onSubmit={(event) => {
        event.preventDefault();
        branch(at, name);
      }}
    >
      <input
        className="input"
        // biome-ignore lint/a11y/noAutofocus: it was just asked for
        autoFocus
        maxLength={60}
        aria-label="Name of what goes on from here"
        placeholder={`from decision ${at}`}
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Escape") return;
          event.stopPropagation();
          setName(null);
        }}
      />
      <button type="submit" className="mat-button">
        Play on
      </button>
    </form>
  );
}
