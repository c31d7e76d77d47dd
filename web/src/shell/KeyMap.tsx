// The ? key opens the list of every key; so does whoever asks for it by name.
import { lazy, Suspense, useEffect, useState } from "react";
import { fetched } from "../state/fetched";

const KeyList = lazy(() => fetched(() => import("./KeyList")).then((room) => ({ default: room.KeyList })));

export function KeyMap() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.key !== "?" || target.closest("input, textarea, select, [contenteditable=true], [role=dialog]")) return;
      event.preventDefault();
      event.stopPropagation();
      setOpen(true);
    };
    const asked = () => setOpen(true);
    window.addEventListener("keydown", press, true);
    window.addEventListener("dramok-keys", asked);
    return () => {
      window.removeEventListener("keydown", press, true);
      window.removeEventListener("dramok-keys", asked);
    };
  }, []);
  return open ? (
    <Suspense>
      <KeyList close={() => setOpen(false)} />
    </Suspense>
  ) : null;
}
