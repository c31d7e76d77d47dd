// A problem with its fix.
import type { Problem } from "../../state/client";

export const ProblemNote = ({ of }: { of: Problem | null }) =>
  of && (
    <p role="alert" className="trouble">
      <b className="needs">{of.detail}</b> — {of.mend}
    </p>
  );
