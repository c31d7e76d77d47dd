import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { useGame } from "../state/game";
import { Face } from "../ui/Face";
import { ROOMS } from "./rooms";

const SHOWN = 60;

/** Find anything: cards, decks, rooms. */
export function Find({ open, setOpen }: { open: boolean; setOpen: (open: boolean) => void }) {
  const { game, cards, order, decks } = useGame();
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState("");
  const navigate = useNavigate();
  const found = useMemo(() => {
    const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
    const hits = order.filter((id) => {
      const card = cards[id];
      const text = card ? `${card.code} ${card.title} ${card.values.tags ?? ""}`.toLowerCase() : "";
      return words.every((word) => text.includes(word));
    });
    return hits.slice(0, SHOWN);
  }, [typed, order, cards]);
  const go = (path: string) => {
    setOpen(false);
    setTyped("");
    navigate(`/${game?.id}/${path}`);
  };
  const face = at.startsWith("card ") ? cards[at.slice(5)] : undefined;
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="veil" />
        <Dialog.Content className="find" aria-describedby={undefined}>
          <Dialog.Title className="unseen">Find anything</Dialog.Title>
          <Command shouldFilter={false} label="Find anything" value={at} onValueChange={setAt} className="find-command">
            <Command.Input
              value={typed}
              onValueChange={setTyped}
              placeholder="A card, a code, a deck, a room"
              className="find-input"
            />
            <div className="find-body">
              <Command.List className="find-list">
                <Command.Empty className="find-empty">
                  Nothing is called that. Try a part of a name, or a code.
                </Command.Empty>
                {ROOMS.filter(([, name]) => name.toLowerCase().includes(typed.toLowerCase())).map(([room, name]) => (
                  <Command.Item key={room} value={`room ${room}`} onSelect={() => go(room)} className="find-item">
                    <span className="find-kind">room</span> {name}
                  </Command.Item>
                ))}
                {decks
                  .filter((deck) => deck.name.toLowerCase().includes(typed.toLowerCase()))
                  .map((deck) => (
                    <Command.Item
                      key={deck.id}
                      value={`deck ${deck.id}`}
                      onSelect={() => go(`decks?deck=${deck.id}`)}
                      className="find-item"
                    >
                      <span className="find-kind">deck</span> {deck.name}
                    </Command.Item>
                  ))}
                {found.map((id) => (
                  <Command.Item
                    key={id}
                    value={`card ${id}`}
                    onSelect={() => go(`cards?card=${id}`)}
                    className="find-item"
                  >
                    <span className="find-kind">{cards[id]?.code}</span> {cards[id]?.title}
                  </Command.Item>
                ))}
              </Command.List>
              <div className="find-face">{face && <Face card={face.id} title={face.title} />}</div>
            </div>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
