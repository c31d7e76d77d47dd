// The ? key opens the list of all keys.
import { lazy, Suspense, useEffect, useState } from "react";
import { fetched } from "../../state/retry";
import { useWindowKeys } from "../../ui/windowKeys";

const KeyList = lazy(() => fetched(() => import("./KeyList")).then((room) => ({ default: room.KeyList })));

export function KeyMap() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const asked = () => setOpen(true);
    window.addEventListener("dramok-keys", asked);
    return () => window.removeEventListener("dramok-keys", asked);
  }, []);
  useWindowKeys((event) => {
    const target = event.target as HTMLElement;
    if (event.key !== "?" || target.closest("input, textarea, select, [contenteditable=true], [role=dialog]")) return;
    event.preventDefault();
    event.stopPropagation();
    setOpen(true);
  }, true);
  return open ? (
    <Suspense>
      <KeyList close={() => setOpen(false)} />
    </Suspense>
  ) : null;
}
