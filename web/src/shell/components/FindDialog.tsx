import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useMemo, useState } from "react";
import { useGo, useStillHere } from "../../state/address";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { plain } from "../../ui/searchText";
import { type Findable, foundBy, places, rulesAndCommands } from "../findable";

const SHOWN = 60;

type Props = { open: boolean; setOpen: (open: boolean) => void; first: React.RefObject<string> };

/** Find anything: rooms, decks, cards, parts of the rules, commands. `first` is what was typed before it was there. */
export function FindDialog({ open, setOpen, first }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const decks = useGame((state) => state.decks);
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState("");
  const go = useGo();
  const stillHere = useStillHere();
  const words = useMemo(() => plain(typed).split(/\s+/).filter(Boolean), [typed]);
  const named = useMemo(
    () =>
      order.map((id) => {
        const card = cards[id];
        return { id, text: card ? plain(`${card.code} ${card.title} ${card.values.tags ?? ""}`) : "" };
      }),
    [order, cards],
  );
  const found = useMemo(
    () =>
      named
        .filter(({ text }) => words.every((word) => text.includes(word)))
        .slice(0, SHOWN)
        .map(({ id }) => id),
    [words, named],
  );
  const rest = useMemo(() => (game ? rulesAndCommands(game) : []), [game]);
  const lead = (path: string) => {
    setOpen(false);
    setTyped("");
    go(path.startsWith("/") ? path : `/${game?.id}/${path}`);
  };
  const choose = async (each: Findable) => {
    if (each.to) return lead(each.to);
    setOpen(false);
    setTyped("");
    const path = await each.run?.();
    if (path && stillHere()) lead(path);
  };
  const items = (all: Findable[]) =>
    all.map((each) => (
      <Command.Item key={each.id} value={each.id} onSelect={() => void choose(each)} className="find-item">
        <span className="find-kind">{each.kind}</span> <span>{each.name}</span>
        {each.more && <span className="soft">{each.more}</span>}
        {each.key && <kbd className="find-key">{each.key}</kbd>}
      </Command.Item>
    ));
  const face = at.startsWith("card ") ? cards[at.slice(5)] : undefined;
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="veil" />
        <Dialog.Content className="find" aria-describedby={undefined} onOpenAutoFocus={() => setTyped(first.current)}>
          <Dialog.Title className="unseen">Find anything</Dialog.Title>
          <Command shouldFilter={false} label="Find anything" value={at} onValueChange={setAt} className="find-command">
            <Command.Input
              value={typed}
              onValueChange={setTyped}
              placeholder="A card, a deck, a room, a rule, a command"
              className="find-input"
            />
            <div className="find-body">
              <Command.List className="find-list">
                <Command.Empty className="find-empty">
                  Nothing is called that. Try a part of a name, a code, or a command such as print.
                </Command.Empty>
                {items(foundBy(words, places(decks)))}
                {found.map((id) => (
                  <Command.Item
                    key={id}
                    value={`card ${id}`}
                    onSelect={() => lead(`cards?card=${id}`)}
                    className="find-item"
                  >
                    <span className="find-kind">{cards[id]?.code}</span> {cards[id]?.title}
                  </Command.Item>
                ))}
                {items(foundBy(words, rest).slice(0, SHOWN))}
              </Command.List>
              <div className="find-face">{face && <Face card={face.id} title={face.title} />}</div>
            </div>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
