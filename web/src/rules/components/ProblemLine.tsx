import type { Trouble } from "../../state/cardRules";

/** Why an edit can't be written, and how to undo it. */
export function ProblemLine({ trouble, giveUp }: { trouble: Trouble | null; giveUp: () => void }) {
  if (!trouble) return null;
  return (
    <div className="rules-trouble" role="alert">
      <span>
        <b className="needs">
          {trouble.where && trouble.where !== "rules" ? `${trouble.where}: ` : ""}
          {trouble.what}
        </b>{" "}
        — {trouble.mend}
      </span>
      <button type="button" className="small-button" onClick={giveUp}>
        Leave it as it was
      </button>
    </div>
  );
}
