// The button for the side pane, which is a drawer in a small window.
import { PanelRight } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { ASKED, sidePane } from "../../ui/drawer";
import { useWindowKeys } from "../../ui/windowKeys";

export function DrawerButton({ label, room }: { label: string; room: string }) {
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another room begins with its drawer shut
  useEffect(() => setOpen(false), [room]);
  useEffect(() => {
    const asked = () => {
      // At once, not with the next look: what is asked for takes the focus right after.
      document.documentElement.dataset.drawer = "open";
      setOpen(true);
    };
    window.addEventListener(ASKED, asked);
    return () => window.removeEventListener(ASKED, asked);
  }, []);
  useEffect(() => {
    document.documentElement.dataset.drawer = open ? "open" : "shut";
  }, [open]);
  const shut = (event: KeyboardEvent) => {
    const target = event.target as HTMLElement;
    if (event.key !== "Escape") return;
    if (target.closest("input, textarea, [contenteditable=true], [role=dialog], [role=menu]")) return;
    if (sidePane()?.contains(target)) button.current?.focus();
    setOpen(false);
  };
  useWindowKeys(open ? shut : null);
  return (
    <button
      ref={button}
      type="button"
      className="icon-button drawer-button"
      aria-expanded={open}
      aria-label={label}
      title={label}
      onClick={() => {
        setOpen(!open);
        const pane = sidePane();
        if (open || !pane) return;
        document.documentElement.dataset.drawer = "open";
        pane.tabIndex = -1;
        pane.focus();
      }}
    >
      <PanelRight size={17} aria-hidden="true" />
    </button>
  );
}
