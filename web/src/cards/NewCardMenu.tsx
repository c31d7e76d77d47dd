// Ways to a new card: of a type, a copy, variants, at random.
import { Plus } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { duplicateCards } from "../state/cells";
import type { Card } from "../state/client";
import { useGame } from "../state/store";

type Props = {
  card: Card | undefined;
  selected: string[];
  add: (type: string) => void;
  made: (ids: string[]) => void;
  open: (dialog: "variants" | "generate") => void;
};

export function NewCardMenu({ card, selected, add, made, open }: Props) {
  const types = useGame((state) => state.game?.types) ?? [];
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="button button-main">
        <Plus size={15} aria-hidden="true" /> New card
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          className="menu"
          align="end"
          sideOffset={4}
          onCloseAutoFocus={(event) => event.preventDefault()}
        >
          {types.map((type) => (
            <DropdownMenu.Item key={type.id} className="menu-item" onSelect={() => add(type.id)}>
              {type.name}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Separator className="menu-line" />
          <DropdownMenu.Item
            className="menu-item"
            disabled={!card}
            onSelect={() =>
              card &&
              void duplicateCards(selected.length ? selected : [card.id]).then((edit) => edit && made(edit.made))
            }
          >
            Duplicate {selected.length > 1 ? `${selected.length} cards` : (card?.title ?? "")}
          </DropdownMenu.Item>
          <DropdownMenu.Item className="menu-item" disabled={!card} onSelect={() => open("variants")}>
            Variants of {card?.title ?? "a card"}…
          </DropdownMenu.Item>
          <DropdownMenu.Item className="menu-item" onSelect={() => open("generate")}>
            Generate at random…
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
