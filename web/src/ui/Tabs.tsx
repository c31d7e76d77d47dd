// Tabs. Arrow keys, Home and End move between them.
type Props<Part extends string> = {
  label: string;
  parts: readonly (readonly [Part, string])[];
  at: Part;
  choose: (part: Part) => void;
  /** The id of the element that shows the chosen part. */
  panel: string;
  className?: string;
};

export const tabId = (panel: string, part: string): string => `${panel}-tab-${part}`;

export function Tabs<Part extends string>({ label, parts, at, choose, panel, className = "" }: Props<Part>) {
  const press = (event: React.KeyboardEvent, place: number) => {
    const last = parts.length - 1;
    const to = { ArrowRight: place + 1, ArrowLeft: place - 1, Home: 0, End: last }[event.key];
    if (to === undefined) return;
    const next = parts[(to + parts.length) % parts.length];
    if (!next) return;
    event.preventDefault();
    choose(next[0]);
    document.getElementById(tabId(panel, next[0]))?.focus();
  };
  return (
    <div className={`tabs ${className}`} role="tablist" aria-label={label}>
      {parts.map(([part, name], place) => (
        <button
          key={part}
          type="button"
          role="tab"
          id={tabId(panel, part)}
          aria-selected={part === at}
          aria-controls={panel}
          tabIndex={part === at ? 0 : -1}
          onClick={() => choose(part)}
          onKeyDown={(event) => press(event, place)}
        >
          {name}
        </button>
      ))}
    </div>
  );
}
