import { DropdownMenu } from "radix-ui";
import type { Trigger } from "./Later";
import type { MenuProps } from "./Menu";

type Props = MenuProps & { trigger: Trigger; wanted: boolean };

export function MenuList({ items, align = "start", leavesFocus, trigger, wanted }: Props) {
  return (
    <DropdownMenu.Root defaultOpen={wanted}>
      <DropdownMenu.Trigger className={trigger.className} aria-label={trigger.label}>
        {trigger.children}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="menu"
          align={align}
          sideOffset={4}
          collisionPadding={10}
          onCloseAutoFocus={leavesFocus ? (event) => event.preventDefault() : undefined}
        >
          {items.map((item) =>
            "line" in item ? (
              <DropdownMenu.Separator key={item.id} className="menu-line" />
            ) : "heading" in item ? (
              <DropdownMenu.Label key={item.id} className="menu-label">
                {item.heading}
              </DropdownMenu.Label>
            ) : (
              <DropdownMenu.Item key={item.id} className="menu-item" disabled={item.disabled} onSelect={item.act}>
                {item.shown}
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
