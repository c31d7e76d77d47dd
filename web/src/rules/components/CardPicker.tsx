// Choose a few cards by name, with counts: "3 larch" adds three.
import { X } from "lucide-react";
import { useId, useState } from "react";
import { useGame } from "../../state/store";
import { numbered } from "../../ui/numbered";
import { plain } from "../../ui/searchText";
import { Counting } from "../../ui/Typing";

type Props = {
  label: string;
  cards: Record<string, number>;
  counted?: boolean;
  put: (cards: Record<string, number>) => void;
};

export function CardPicker({ label, cards, counted, put }: Props) {
  const known = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const list = useId();
  const [text, setText] = useState("");
  const [slip, setSlip] = useState<string | null>(null);
  const named = (id: string) => known[id]?.title ?? "a card that is gone";
  const find = (wanted: string): string | undefined => {
    const same = (id: string) => plain(known[id]?.title ?? "") === wanted || plain(known[id]?.code ?? "") === wanted;
    const exact = order.find(same);
    if (exact || !wanted) return exact;
    const holding = order.filter((id) => plain(known[id]?.title ?? "").includes(wanted));
    return holding.length === 1 ? holding[0] : undefined;
  };
  const add = () => {
    if (!text.trim()) return;
    // The whole text may be a name that begins with a number.
    const { count, rest } = find(plain(text.trim())) ? { count: null, rest: text.trim() } : numbered(text);
    const id = find(plain(rest));
    if (!id) {
      const near = order.filter((each) => plain(known[each]?.title ?? "").includes(plain(rest))).slice(0, 3);
      const said = near.length > 1 ? `Several cards have “${rest}”: ${near.map(named).join(", ")}` : "";
      setSlip(said || `No card is called “${rest}”. Type a name or a code.`);
      return;
    }
    if (count !== null && (!counted || count < 1)) {
      setSlip(
        counted ? "Type a number of 1 or more before the name." : "These cards are not counted: leave the number out.",
      );
      return;
    }
    put({ ...cards, [id]: counted ? (count ?? cards[id] ?? 1) : 0 });
    // The line is empty again for the next.
    setText("");
    setSlip(null);
  };
  return (
    <fieldset className="deck-rules-part">
      <legend>{label}</legend>
      <div className="form form-row card-picker">
        {Object.keys(cards).map((id) => (
          <span key={id} className="query-chip">
            <span className="card-picked">{named(id)}</span>
            {counted && (
              <Counting
                label={`Number of ${named(id)}`}
                hidden
                value={cards[id] ?? 1}
                commit={(count) => put({ ...cards, [id]: count ?? 1 })}
              />
            )}
            <button
              type="button"
              className="query-chip-out"
              aria-label={`${named(id)}: not in ${label.toLowerCase()}`}
              onClick={() => put(Object.fromEntries(Object.entries(cards).filter(([each]) => each !== id)))}
            >
              <X size={12} aria-hidden="true" />
            </button>
          </span>
        ))}
        <input
          className="input"
          aria-label={`Add to ${label.toLowerCase()}`}
          aria-describedby={slip ? `${list}-slip` : undefined}
          aria-invalid={slip !== null || undefined}
          placeholder={counted ? "3 larch, then Enter" : "Name or code, then Enter"}
          dir="auto"
          list={list}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setSlip(null);
          }}
          onBlur={add}
          onKeyDown={(event) => {
            if (event.key === "Enter" && !event.nativeEvent.isComposing) {
              event.preventDefault();
              add();
            } else if (event.key === "Escape") {
              event.stopPropagation();
              setText("");
              setSlip(null);
            }
          }}
        />
        <datalist id={list}>
          {order.slice(0, 3000).map((id) => (
            <option key={id} value={known[id]?.title ?? ""} />
          ))}
        </datalist>
      </div>
      {slip && (
        <p id={`${list}-slip`} className="needs card-picker-slip" role="alert">
          {slip}
        </p>
      )}
    </fieldset>
  );
}
