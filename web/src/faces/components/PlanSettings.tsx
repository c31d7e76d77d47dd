// Settings of a whole plan: size and variants; and the styles shared by all plans.
import { Plus, RotateCw, Trash2 } from "lucide-react";
import { useState } from "react";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { Picking, Ticking, Typing } from "../../ui/Typing";
import { FONTS } from "../placementProperties";
import { type Book, editPlan, makePlan, type Patch, type Plan, removePlan, type Size } from "../usePlans";
import { Colour, Figure } from "./inputs";

type Props = {
  book: Book;
  plan: Plan;
  look: (size: Partial<Size> | null) => void;
  resize: (size: Size) => void;
  choose: (plan: string) => void;
};

export function PlanSettings({ book, plan, look, resize, choose }: Props) {
  const size = plan.size;
  const unit = size.unit ?? "mm";
  const isBase = !plan.head.type && !plan.head.variant;
  const put = (patch: Partial<Size>) => resize({ ...size, ...patch });
  const figure = (key: "width" | "height" | "corner" | "bleed" | "safe", label: string, step = 0.5) => (
    <Figure
      key={key}
      label={label}
      unit={unit}
      step={unit === "in" ? 0.02 : step}
      value={Number(size[key] ?? 0)}
      look={(value) => look(value === null ? null : { ...size, [key]: value })}
      commit={(value) => put({ [key]: value })}
    />
  );
  const lying = size.width > size.height;
  return (
    <div className="inspector">
      <div className="inspector-head">
        <Typing
          label="Name of the plan"
          hidden
          value={plan.head.name ?? ""}
          className="inspector-name"
          commit={(name) => void editPlan(plan.id, { head: { name } })}
        />
        <p className="soft">
          {plan.head.side === "back" ? "Back" : "Front"} · worn by {counted(plan.cards, "card")}
        </p>
      </div>
      <section className="inspector-part" aria-label="Size">
        <h3>Size{!plan.own_size && " (inherited)"}</h3>
        <div className="size-line">
          <Picking
            label="Card"
            hidden
            value={plan.size_name}
            options={[...book.sizes.map((each) => [each.name, each.name] as const), ["Own", "Own size"]]}
            commit={(name) => {
              const found = book.sizes.find((each) => each.name === name);
              if (!found) return;
              const [width, height] =
                lying && found.outline === "rectangle" ? [found.height, found.width] : [found.width, found.height];
              put({
                width,
                height,
                outline: found.outline as Size["outline"] & string,
                corner: found.outline === "rectangle" ? Math.min(size.corner ?? 3.2, 3.2) : 0,
              });
            }}
          />
          <button
            type="button"
            className="small-button"
            onClick={() => put({ width: size.height, height: size.width })}
            title="Turns the card; placements stay where they are"
          >
            <RotateCw size={12} aria-hidden="true" /> {lying ? "Portrait" : "Landscape"}
          </button>
        </div>
        <div className="inspector-figures">
          {figure("width", "Wide")}
          {figure("height", "High")}
          <Picking
            label="Outline"
            value={size.outline ?? "rectangle"}
            options={[
              ["rectangle", "rectangle"],
              ["hexagon", "hexagon"],
              ["round", "round"],
            ]}
            commit={(outline) => put({ outline: outline as "rectangle" })}
          />
          {figure("corner", "Corners", 0.1)}
          {figure("bleed", "Bleed", 0.5)}
          {figure("safe", "Safe edge", 0.5)}
          <Picking
            label="Measured in"
            value={unit}
            options={[
              ["mm", "millimetres"],
              ["in", "inches"],
            ]}
            commit={(next) => put({ unit: next as "mm" })}
          />
        </div>
      </section>
      <Variants book={book} plan={plan} choose={choose} />
      {!isBase && (
        <button
          type="button"
          className="small-button plan-out"
          onClick={() => {
            const below = plan.beneath[plan.beneath.length - 1];
            void removePlan(plan.id).then((done) => done && below && choose(below));
          }}
        >
          <Trash2 size={12} aria-hidden="true" /> Remove this plan
        </button>
      )}
      {plan.problems.length > 0 && (
        <ul className="problems" aria-label="What can't be drawn">
          {plan.problems.map((problem) => (
            <li key={problem.where + problem.what}>
              <b className="needs">
                {problem.where}: {problem.what}
              </b>{" "}
              — {problem.mend}
            </li>
          ))}
        </ul>
      )}
      <Styles book={book} plan={plan} />
    </div>
  );
}

/** A plan that holds only for one value of a choice: the heirlooms' own face. */
function Variants({ book, plan, choose }: { book: Book; plan: Plan; choose: (plan: string) => void }) {
  const game = useGame((state) => state.game);
  const [field, setField] = useState("");
  const fields = (game?.fields ?? []).filter((each) => each.kind === "choice");
  const chosen = fields.find((each) => each.id === field);
  const list = game?.lists.find((each) => chosen && "list" in chosen && each.id === chosen.list);
  const taken = book.plans
    .filter(
      (each) =>
        (each.head.type ?? "") === (plan.head.type ?? "") &&
        each.head.side === plan.head.side &&
        each.head.variant?.field === field,
    )
    .map((each) => each.head.variant?.value);
  if (plan.head.variant || !fields.length) return null;
  return (
    <section className="inspector-part" aria-label="Variants">
      <h3>A variant of this plan</h3>
      <div className="inspector-figures">
        <Picking
          label="For cards by"
          value={field}
          options={[["", "choose a field"], ...fields.map((each) => [each.id, each.name] as const)]}
          commit={setField}
        />
        {list && (
          <Picking
            label="Value"
            value=""
            options={[
              ["", "choose a value"],
              ...(list.values ?? [])
                .filter((value) => !value.retired && !taken.includes(value.id))
                .map((value) => [value.id, value.name] as const),
            ]}
            commit={(value) =>
              value &&
              void makePlan({
                type: plan.head.type ?? "",
                side: plan.head.side ?? "front",
                variant: { field, value },
              }).then((done) => done?.made[0] && choose(done.made[0]))
            }
          />
        )}
      </div>
    </section>
  );
}

/** Named looks of text that placements share. */
function Styles({ book, plan }: { book: Book; plan: Plan }) {
  const [open, setOpen] = useState<string | null>(null);
  const base = book.plans.find((each) => !each.head.type && !each.head.variant && each.head.side === "front") ?? plan;
  const write = (style: { id: string; plan: string }, patch: Patch) =>
    void editPlan(style.plan, { styles: { [style.id]: patch } });
  const add = () => {
    const used = new Set(book.styles.map((each) => each.id));
    let number = book.styles.length + 1;
    while (used.has(`style-${number}`)) number += 1;
    setOpen(`style-${number}`);
    void editPlan(base.id, { styles: { [`style-${number}`]: { name: `Style ${number}`, font: "body" } } });
  };
  return (
    <section className="inspector-part" aria-label="Styles of text">
      <h3>Styles of text, shared by all plans</h3>
      <ul className="styles">
        {book.styles.map((style) => {
          const on = open === style.id;
          const doc = style.doc;
          const figure = (key: string, label: string, plain: number, step = 0.1) => (
            <Figure
              label={label}
              unit="mm"
              step={step}
              value={Number(doc[key] ?? plain)}
              commit={(value) => write(style, { [key]: value })}
            />
          );
          return (
            <li key={style.id}>
              <button
                type="button"
                className="style-line"
                aria-expanded={on}
                onClick={() => setOpen(on ? null : style.id)}
              >
                <span>{String(doc.name ?? style.id)}</span>
                <span className="soft num">
                  {String(doc.largest ?? 3.45)}–{String(doc.least ?? 2.25)} mm
                </span>
              </button>
              {on && (
                <div className="inspector-figures style-open">
                  <Typing label="Name" value={String(doc.name ?? "")} commit={(name) => write(style, { name })} />
                  <Picking
                    label="Font"
                    value={String(doc.font ?? "body")}
                    options={FONTS}
                    commit={(font) => write(style, { font })}
                  />
                  {figure("largest", "Largest", 3.45)}
                  {figure("least", "Least", 2.25)}
                  <Colour label="Ink" value={String(doc.ink ?? "#23281f")} commit={(ink) => write(style, { ink })} />
                  <Picking
                    label="Across"
                    value={String(doc.align ?? "start")}
                    options={[
                      ["start", "left"],
                      ["middle", "centred"],
                      ["end", "right"],
                    ]}
                    commit={(align) => write(style, { align })}
                  />
                  <Figure
                    label="Line height"
                    value={Number(doc.leading ?? 1.32)}
                    step={0.05}
                    commit={(leading) => write(style, { leading })}
                  />
                  <Ticking
                    label="Balanced lines"
                    value={Boolean(doc.balanced)}
                    commit={(balanced) => write(style, { balanced })}
                  />
                  <button type="button" className="small-button" onClick={() => write(style, null)}>
                    <Trash2 size={12} aria-hidden="true" /> Remove
                  </button>
                </div>
              )}
            </li>
          );
        })}
      </ul>
      <button type="button" className="small-button" onClick={add}>
        <Plus size={12} aria-hidden="true" /> New style
      </button>
    </section>
  );
}
