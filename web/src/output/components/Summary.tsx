// A summary of the order with its warnings, and the button that starts it.
import type { LucideIcon } from "lucide-react";
import type { Problem } from "../../state/client";

type Props = {
  title: string;
  more: string[];
  warnings: string[];
  trouble: Problem | null;
  /** What makes it; off while nothing is found that can be made. */
  make: { icon: LucideIcon; label: string; ready: boolean; act: () => void };
  children?: React.ReactNode;
};

export function Summary({ title, more, warnings, trouble, make, children }: Props) {
  return (
    <section className="summary" aria-label="Summary">
      <h2>{title}</h2>
      {more.map((line) => (
        <p key={line} className="soft">
          {line}
        </p>
      ))}
      {trouble && (
        <p role="alert" className="trouble">
          <b className="needs">{trouble.detail}</b>
          {trouble.mend && <> — {trouble.mend}</>}
        </p>
      )}
      {!trouble && warnings.length > 0 && (
        <ul className="summary-warnings" aria-label="Warnings">
          {warnings.map((each) => (
            <li key={each}>{each.charAt(0).toUpperCase() + each.slice(1)}.</li>
          ))}
        </ul>
      )}
      {children}
      <button
        type="button"
        className="button button-main output-make"
        disabled={!make.ready || trouble !== null}
        onClick={make.act}
      >
        <make.icon size={15} aria-hidden="true" /> {make.label}
      </button>
    </section>
  );
}
