// In a small window a room's side pane is a drawer: this opens and shuts it.
import { PanelRight } from "lucide-react";
import { useEffect, useState } from "react";

export function DrawerButton({ label, room }: { label: string; room: string }) {
  const [open, setOpen] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another room begins with its drawer shut
  useEffect(() => setOpen(false), [room]);
  useEffect(() => {
    document.documentElement.dataset.drawer = open ? "open" : "shut";
    if (!open) return;
    const shut = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (
        event.key === "Escape" &&
        !target.closest("input, textarea, [contenteditable=true], [role=dialog], [role=menu]")
      )
        setOpen(false);
    };
    window.addEventListener("keydown", shut);
    return () => window.removeEventListener("keydown", shut);
  }, [open]);
  return (
    <button
      type="button"
      className="icon-button drawer-button"
      aria-expanded={open}
      aria-label={label}
      title={label}
      onClick={() => setOpen(!open)}
    >
      <PanelRight size={17} aria-hidden="true" />
    </button>
  );
}
