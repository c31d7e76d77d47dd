// The left side: the choice of a plan, its placements from the topmost down, and what can be added.
import { Eye, EyeOff, Plus } from "lucide-react";
import { memo, useState } from "react";
import { useGame } from "../../state/store";
import { FURNITURE, KINDS } from "../placementProperties";
import { type Book, makePlan, nameOf, type Place, type Plan } from "../usePlans";

type PlansProps = { book: Book; plan: Plan; choose: (plan: string) => void };

export const Plans = memo(function Plans({ book, plan, choose }: PlansProps) {
  const game = useGame((state) => state.game);
  const [adding, setAdding] = useState(false);
  const has = (type: string, side: string) =>
    book.plans.some((each) => (each.head.type ?? "") === type && each.head.side === side && !each.head.variant);
  const free = (game?.types ?? []).flatMap((type) =>
    (["front", "back"] as const)
      .filter((side) => !has(type.id, side))
      .map((side) => ({ type: type.id, side, name: side === "front" ? type.name : `${type.name} back` })),
  );
  if (!has("", "back")) free.push({ type: "", side: "back", name: "Back" });
  return (
    <section className="rules-part" aria-label="Face plans">
      <h2>Face plans</h2>
      <ul>
        {book.plans.map((each) => (
          <li key={each.id}>
            <button
              type="button"
              className="rules-item"
              aria-current={each.id === plan.id}
              style={{ paddingLeft: 10 + each.beneath.length * 14 }}
              onClick={() => choose(each.id)}
            >
              <span>{each.head.name || "Plan"}</span>
              <span className="num soft">{each.cards}</span>
            </button>
          </li>
        ))}
      </ul>
      {free.length > 0 &&
        (adding ? (
          <select
            className="select plans-free"
            aria-label="A plan of its own for"
            value=""
            onChange={(event) => {
              const found = free[Number(event.target.value)];
              setAdding(false);
              if (found)
                void makePlan({ type: found.type, side: found.side, variant: null }).then(
                  (done) => done?.made[0] && choose(done.made[0]),
                );
            }}
          >
            <option value="">a plan of its own for…</option>
            {free.map((each, at) => (
              <option key={each.type + each.side} value={at}>
                {each.name}
              </option>
            ))}
          </select>
        ) : (
          <button type="button" className="rules-item soft" onClick={() => setAdding(true)}>
            <span>
              <Plus size={12} className="inline" aria-hidden="true" /> Plan of its own
            </span>
          </button>
        ))}
    </section>
  );
});

type LayersProps = {
  plan: Plan;
  selected: string[];
  select: (ids: string[]) => void;
  turn: (place: Place) => void;
};

export const Layers = memo(function Layers({ plan, selected, select, turn }: LayersProps) {
  const topFirst = [...plan.places].reverse();
  return (
    <section className="rules-part" aria-label="On this plan">
      <h2>On this plan, topmost first</h2>
      {topFirst.length === 0 && <p className="rules-said soft">Nothing yet. Place a field from below.</p>}
      <ul className="layers">
        {topFirst.map((place) => (
          <li key={place.id} className={place.full.off ? "layer layer-off" : "layer"}>
            <button
              type="button"
              className="rules-item"
              aria-pressed={selected.includes(place.id)}
              onClick={(event) =>
                select(
                  event.shiftKey || event.ctrlKey || event.metaKey
                    ? selected.includes(place.id)
                      ? selected.filter((id) => id !== place.id)
                      : [...selected, place.id]
                    : [place.id],
                )
              }
            >
              <span>{nameOf(place)}</span>
              <span className="soft layer-kind">{KINDS[String(place.doc.kind)]?.name.toLowerCase()}</span>
            </button>
            <button
              type="button"
              className="icon-button"
              aria-label={`${nameOf(place)}: ${place.full.off ? "switch on" : "switch off"}`}
              title={place.full.off ? "Switch on" : "Switch off, and keep"}
              onClick={() => turn(place)}
            >
              {place.full.off ? <EyeOff size={13} aria-hidden="true" /> : <Eye size={13} aria-hidden="true" />}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
});

const BESIDE: [string, string][] = [
  ["code", "Code"],
  ["type", "Card type"],
  ["set", "Set"],
];

/** Fields of the plan's type that are not on it yet come first; then the others, and plain furniture. Dragged onto the mat, or placed by a press. */
export const Palette = memo(function Palette({ plan, place }: { plan: Plan; place: (what: string) => void }) {
  const game = useGame((state) => state.game);
  const type = game?.types.find((each) => each.id === plan.head.type);
  const fields = (game?.fields ?? []).filter((field) => !type || type.fields.includes(field.id));
  const bound = new Set(
    plan.places.flatMap((each) => [String(each.doc.field ?? ""), ...((each.full.fields as string[]) ?? [])]),
  );
  const items: [string, string][] = [...fields.map((field): [string, string] => [field.id, field.name]), ...BESIDE];
  const chip = ([id, name]: [string, string]) => (
    <button
      key={id}
      type="button"
      className={"token"}
      draggable
      onDragStart={(event) => event.dataTransfer.setData("text/dramok-field", id)}
      onClick={() => place(id)}
      title={`Place ${name}: press, or drag it onto the card`}
    >
      {name}
    </button>
  );
  return (
    <section className="rules-part" aria-label="To place">
      <h2>Place on the card</h2>
      <div className="tokens">{items.filter(([id]) => !bound.has(id)).map(chip)}</div>
      <div className="tokens tokens-more">{FURNITURE.map(chip)}</div>
      <details className="tokens-again">
        <summary className="soft">Placed already</summary>
        <div className="tokens">{items.filter(([id]) => bound.has(id)).map(chip)}</div>
      </details>
    </section>
  );
});
