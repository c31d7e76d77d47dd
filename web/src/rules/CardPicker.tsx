// A few cards chosen by name, each with a number where they are counted.
import { X } from "lucide-react";
import { useId } from "react";
import { useGame } from "../state/store";
import { Counting, Typing } from "../ui/Typing";

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
  const named = (id: string) => known[id]?.title ?? "a card that is gone";
  const add = (text: string) => {
    const wanted = text.trim().toLowerCase();
    const id = order.find((each) => {
      const card = known[each];
      return card && (card.title.toLowerCase() === wanted || card.code.toLowerCase() === wanted);
    });
    if (!id) return false;
    put({ ...cards, [id]: counted ? (cards[id] ?? 1) : 0 });
    // The line is empty again for the next.
    return false;
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
                label={`Limit of ${named(id)}`}
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
        <Typing
          label={`Add to ${label.toLowerCase()}`}
          hidden
          placeholder="Name or code, Enter"
          list={list}
          value=""
          commit={add}
        />
        <datalist id={list}>
          {order.slice(0, 3000).map((id) => (
            <option key={id} value={known[id]?.title ?? ""} />
          ))}
        </datalist>
      </div>
    </fieldset>
  );
}
