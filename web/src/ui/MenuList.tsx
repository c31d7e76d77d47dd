import { DropdownMenu } from "radix-ui";
import { useCallback, useRef } from "react";
import type { Trigger } from "./Later";
import type { MenuProps } from "./Menu";

type Props = MenuProps & { trigger: Trigger; wanted: boolean };

export function MenuList({ items, align = "start", leavesFocus, trigger, wanted }: Props) {
  // Opened before it was there: nobody told it of the key, and the focus would stand on none of its things.
  const fresh = useRef(wanted);
  const late = useCallback((menu: HTMLElement | null) => {
    if (!menu || !fresh.current) return;
    fresh.current = false;
    requestAnimationFrame(() => menu.querySelector<HTMLElement>("[role=menuitem]:not([data-disabled])")?.focus());
  }, []);
  // What leads the focus elsewhere is done once the menu is gone: while it is open it takes every focus back.
  const chosen = useRef<(() => void) | null>(null);
  const closed = (event: Event) => {
    if (!leavesFocus) return;
    event.preventDefault();
    chosen.current?.();
    chosen.current = null;
  };
  const choose = (act: () => void) => {
    if (leavesFocus) chosen.current = act;
    else act();
  };
  return (
    <DropdownMenu.Root defaultOpen={wanted}>
      <DropdownMenu.Trigger className={trigger.className} aria-label={trigger.label}>
        {trigger.children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          ref={late}
          className="menu"
          align={align}
          sideOffset={4}
          collisionPadding={10}
          onCloseAutoFocus={closed}
        >
          {items.map((item) =>
            "line" in item ? (
              <DropdownMenu.Separator key={item.id} className="menu-line" />
            ) : "heading" in item ? (
              <DropdownMenu.Label key={item.id} className="menu-label">
                {item.heading}
              </DropdownMenu.Label>
            ) : (
              <DropdownMenu.Item
                key={item.id}
                className="menu-item"
                disabled={item.disabled}
                onSelect={() => choose(item.act)}
              >
                {item.shown}
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
