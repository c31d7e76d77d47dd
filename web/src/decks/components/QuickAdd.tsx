// Add a card by typing its name anywhere: "3 lar" adds three, "-1 lar" removes one.
import { useMemo, useRef, useState } from "react";
import type { Deck } from "../../state/client";
import { countBy } from "../../state/deckEdits";
import { useGame } from "../../state/store";
import { numbered } from "../../ui/numbered";
import { plain } from "../../ui/searchText";
import { Picking } from "../../ui/Typing";
import { useWindowKeys } from "../../ui/windowKeys";
import type { DeckRules } from "../types";

const MOST = 8;

export function QuickAdd({ deck, rules }: { deck: Deck; rules: DeckRules }) {
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const [text, setText] = useState("");
  const [marked, setMarked] = useState(0);
  const [section, setSection] = useState("");
  const [said, setSaid] = useState("");
  const [open, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const before = useRef<HTMLElement | null>(null);
  const into = section && rules.sections.some((each) => each.id === section) ? section : "";
  const { count, words } = read(text);
  const names = useMemo(
    () => order.map((id) => ({ id, text: plain(`${cards[id]?.title ?? ""} ${cards[id]?.code ?? ""}`) })),
    [order, cards],
  );
  const found = useMemo(() => {
    if (!words.length) return [];
    const holding = names.filter((each) => words.every((word) => each.text.includes(word)));
    const first = words[0] ?? "";
    return [
      ...holding.filter((each) => each.text.startsWith(first)),
      ...holding.filter((each) => !each.text.startsWith(first)),
    ].slice(0, MOST);
  }, [names, words]);
  // A letter or a figure that nobody else wants begins a name.
  useWindowKeys((event) => {
    if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key.length !== 1 || !/[\p{L}\p{N}]/u.test(event.key)) return;
    const target = event.target as HTMLElement;
    if (target.closest("input, textarea, select, [role=dialog], [role=menu]")) return;
    before.current = target;
    input.current?.focus();
    // What was left there is written over.
    input.current?.select();
  });
  const put = (id: string | undefined) => {
    if (!id) return;
    void countBy(deck.id, id, count, into);
    setSaid(`${count > 0 ? `${count} ${cards[id]?.title} in` : `${-count} ${cards[id]?.title} out`}`);
    setText("");
    setMarked(0);
  };
  const press = (event: React.KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step && found.length) setMarked((marked + step + found.length) % found.length);
    else if (event.key === "Enter") put(found[marked]?.id);
    else if (event.key === "Escape") {
      setText("");
      if (before.current?.isConnected && before.current !== document.body) before.current.focus();
      else document.querySelector<HTMLElement>(".wall")?.focus();
    } else return;
    event.preventDefault();
  };
  return (
    <div className="quick-add">
      <input
        ref={input}
        className="input"
        role="combobox"
        aria-label="Put in a card by its name"
        aria-expanded={open && found.length > 0}
        aria-controls="quick-add-found"
        aria-activedescendant={found[marked] ? `quick-add-${marked}` : undefined}
        placeholder="Type a name to put it in: 3 …"
        autoComplete="off"
        spellCheck={false}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setMarked(0);
          setSaid("");
        }}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={press}
      />
      {rules.sections.length > 0 && (
        <Picking
          label="Into"
          hidden
          value={into}
          options={[["", rules.main], ...rules.sections.map((each) => [each.id, each.name] as const)]}
          commit={setSection}
        />
      )}
      <span className="unseen" aria-live="polite">
        {said}
      </span>
      {open && text && (
        <div id="quick-add-found" role="listbox" aria-label="Cards" className="quick-add-found">
          {found.map((each, place) => (
            <div
              key={each.id}
              id={`quick-add-${place}`}
              role="option"
              tabIndex={-1}
              aria-selected={place === marked}
              className="query-offer"
              onMouseDown={(event) => {
                event.preventDefault();
                put(each.id);
              }}
            >
              <span className="query-offer-text">{cards[each.id]?.title}</span>
              <span className="soft">
                {cards[each.id]?.code}
                {deck.cards[each.id] ? ` · has ${deck.cards[each.id]}` : ""}
              </span>
            </div>
          ))}
          {!found.length && words.length > 0 && <p className="soft quick-add-none">No card has “{words.join(" ")}”.</p>}
        </div>
      )}
    </div>
  );
}

/** A count and the words of a name. */
function read(text: string): { count: number; words: string[] } {
  const { count, rest } = numbered(text);
  return { count: count || 1, words: plain(rest).split(/\s+/).filter(Boolean) };
}
