// The menu for new cards: by type, a copy, variants, random.
import { Plus } from "lucide-react";
import { duplicateCards } from "../../state/cells";
import type { Card } from "../../state/client";
import { useGame } from "../../state/store";
import { Menu } from "../../ui/Menu";
import { counted } from "../../ui/plural";

type Props = {
  card: Card | undefined;
  selected: string[];
  add: (type: string) => void;
  made: (ids: string[]) => void;
  open: (dialog: "variants" | "generate") => void;
};

export function NewCardMenu({ card, selected, add, made, open }: Props) {
  const types = useGame((state) => state.game?.types) ?? [];
  const many = selected.length > 1;
  return (
    <Menu
      align="end"
      leavesFocus
      trigger={{
        className: "button button-main",
        children: (
          <>
            <Plus size={15} aria-hidden="true" /> New card
          </>
        ),
      }}
      items={[
        ...types.map((type) => ({ id: type.id, shown: type.name, act: () => add(type.id) })),
        { id: "line", line: true },
        {
          id: "duplicate",
          shown: `Duplicate ${many ? `${counted(selected.length, "card")}` : (card?.title ?? "")}`,
          disabled: !card,
          act: () =>
            card && void duplicateCards(selected.length ? selected : [card.id]).then((edit) => edit && made(edit.made)),
        },
        {
          id: "variants",
          shown: `Variants of ${card?.title ?? "a card"}…`,
          disabled: !card,
          act: () => open("variants"),
        },
        { id: "generate", shown: "Generate at random…", act: () => open("generate") },
      ]}
    />
  );
}
