// Shows the live face of a named card on hover or focus.
import { HoverCard } from "radix-ui";
import type { ReactNode } from "react";
import { useGame } from "../state/store";
import { Face } from "./Face";

type Props = { card: string; children: ReactNode; side?: "left" | "right" | "top" | "bottom"; delay?: number };

export function Hover({ card, children, side = "left", delay = 120 }: Props) {
  const title = useGame((state) => state.cards[card]?.title ?? "");
  return (
    <HoverCard.Root openDelay={delay} closeDelay={60}>
      <HoverCard.Trigger asChild>{children}</HoverCard.Trigger>
      <HoverCard.Portal>
        <HoverCard.Content side={side} sideOffset={10} collisionPadding={12} className="hover-face">
          <Face card={card} title={title} />
        </HoverCard.Content>
      </HoverCard.Portal>
    </HoverCard.Root>
  );
}
