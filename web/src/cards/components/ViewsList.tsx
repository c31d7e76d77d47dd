// Saved views: a query with its order and columns, under a name.

import { Trash2 } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import { removeView, saveView } from "../../state/cells";
import { useGame } from "../../state/store";
import type { Trigger } from "../../ui/Later";
import type { ViewsProps } from "../types";

export function ViewsList({ current, open, trigger, wanted }: ViewsProps & { trigger: Trigger; wanted: boolean }) {
  const views = useGame((state) => state.game?.views ?? []);
  const [shown, setShown] = useState(wanted);
  const [name, setName] = useState("");
  const save = async () => {
    if (!name.trim()) return;
    if (await saveView(name, current())) {
      setName((now) => (now === name ? "" : now));
      setShown(false);
    }
  };
  return (
    <Popover.Root open={shown} onOpenChange={setShown}>
      <Popover.Trigger className={trigger.className}>{trigger.children}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content className="menu views-menu" align="start" sideOffset={4} aria-label="Saved views">
          {views.length ? (
            <ul>
              {views.map((view) => (
                <li key={view.id}>
                  <button
                    type="button"
                    className="views-open"
                    onClick={() => {
                      open(view.doc as Record<string, unknown>);
                      setShown(false);
                    }}
                  >
                    {view.name}
                  </button>
                  <button
                    type="button"
                    className="icon-button"
                    aria-label={`Remove the view ${view.name}`}
                    onClick={() => void removeView(view.id)}
                  >
                    <Trash2 size={14} aria-hidden="true" />
                  </button>
                </li>
              ))}
            </ul>
          ) : (
            <p className="soft views-none">Save a query with its order and columns, to come back to it.</p>
          )}
          <form
            className="views-save"
            onSubmit={(event) => {
              event.preventDefault();
              void save();
            }}
          >
            <input
              className="input"
              aria-label="Name of the view"
              placeholder="Name what you see now"
              value={name}
              maxLength={60}
              onChange={(event) => setName(event.target.value)}
            />
            <button type="submit" className="button button-main" disabled={!name.trim()}>
              {views.some((view) => view.name.toLowerCase() === name.trim().toLowerCase()) ? "Replace" : "Save"}
            </button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
