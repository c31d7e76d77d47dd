// The list at the side of a room; in a narrow window one line that opens on click.
import { ChevronDown } from "lucide-react";
import { useState } from "react";
import { useAddress } from "../state/address";

type Props = {
  label: string;
  /** The name of what is shown. */
  now: string;
  className?: string;
  children: React.ReactNode;
};

export function SideNav({ label, now, className = "", children }: Props) {
  const [params] = useAddress();
  // An address that asks for a new entry leads to its line in the list, which is open before that line is looked for.
  const asked = params.get("new");
  const [seen, setSeen] = useState(asked);
  const [open, setOpen] = useState(asked !== null);
  if (asked !== seen) {
    setSeen(asked);
    if (asked !== null) setOpen(true);
  }
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: buttons within it are pressed, by mouse or key: each press is a click
    <nav
      className={`rules-side side-nav ${open ? "side-nav-open" : ""} ${className}`}
      aria-label={label}
      onClick={(event) => (event.target as HTMLElement).closest(".rules-item") && setOpen(false)}
    >
      <button type="button" className="side-nav-toggle" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span>{now}</span> <ChevronDown size={15} aria-hidden="true" />
      </button>
      {children}
    </nav>
  );
}
