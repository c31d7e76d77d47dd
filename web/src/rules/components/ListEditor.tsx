// One choice list: order, rename, mark, merge and remove its values.
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowDown, ArrowUp, ImagePlus, Merge, Plus, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { type ListDoc, type Rules, takeListOut, useListWriter, type ValueDoc } from "../../state/cardRules";
import { bringPicture } from "../../state/cells";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { Picking, Typing } from "../../ui/Typing";
import { symbolsWith } from "../symbols";
import { useListDraft } from "../useListDraft";
import { Colour } from "./BackEditor";
import { ProblemLine } from "./ProblemLine";

const ROW = 38;

type Props = { list: ListDoc; rules: Rules; gone: () => void };

export function ListEditor({ list, rules, gone }: Props) {
  const game = useGame((state) => state.game);
  const { write, trouble, setTrouble, asked, setAsked } = useListWriter();
  const { draft, values, giveUp: showAsItIs, ...doing } = useListDraft(list, write);
  const [adding, setAdding] = useState("");
  const [merging, setMerging] = useState<string | null>(null);
  const [moves, setMoves] = useState<Record<string, string>>({});
  const scroller = useRef<HTMLDivElement>(null);
  const uses = rules.uses[list.id] ?? {};
  const users = rules.types.flatMap((type) =>
    (type.fields ?? []).filter((field) => "list" in field && field.list === list.id && !field.retired),
  );
  const outer = outerValues(list, rules);
  const virtual = useVirtualizer({
    count: values.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const giveUp = () => {
    showAsItIs();
    setTrouble(null);
    setAsked(null);
    setMoves({});
  };
  const add = async () => {
    const names = adding
      .split(/[\n;]/)
      .map((name) => name.trim())
      .filter(Boolean);
    if (!names.length) return;
    setAdding("");
    if (!(await doing.add(names))) setAdding((now) => now || adding);
  };
  return (
    <div className="rules-editor">
      <div className="rules-main rules-whole">
        <h2 className="rules-title">{list.name}</h2>
        <p className="soft">
          {counted(values.length, "value")}
          {users.length
            ? ` · chosen from by ${[...new Set(users.map((field) => field.name))].join(", ")}`
            : " · no field chooses from it yet"}
        </p>
        <div className="form form-row">
          <Typing label="Name" value={draft.name} commit={(name) => void doing.rename(name)} />
        </div>
        <ProblemLine trouble={trouble} giveUp={giveUp} />
        {asked && (
          <section className="rules-asked" aria-label="Where do the cards go?">
            {asked.unplaced.map((each) => (
              <div key={each.value} className="form form-row">
                <p>
                  <b>
                    {counted(each.cards, "card has", "cards have")} {each.name}
                  </b>{" "}
                  <span className="soft">({each.some})</span>. They get
                </p>
                <Picking
                  label={`Instead of ${each.name}`}
                  hidden
                  value={moves[each.value] ?? ""}
                  options={[
                    ["", "nothing: the field is empty"],
                    ...(asked.doc.values ?? [])
                      .filter((value) => value.id)
                      .map((value) => [value.id, value.name] as const),
                  ]}
                  commit={(to) => setMoves({ ...moves, [each.value]: to })}
                />
              </div>
            ))}
            <button
              type="button"
              className="button button-main"
              onClick={() => {
                const to = Object.fromEntries(asked.unplaced.map((each) => [each.value, moves[each.value] || null]));
                void write(asked.doc, to).then((done) => done && setMoves({}));
              }}
            >
              Move the cards
            </button>{" "}
            <button type="button" className="button" onClick={giveUp}>
              Leave it as it was
            </button>
          </section>
        )}
        <div ref={scroller} className="value-list" role="list" aria-label={`Values of ${list.name}`}>
          <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
            {virtual.getVirtualItems().map((item) => {
              const value = values[item.index] as ValueDoc;
              const mine = doing.nameOf(value);
              return (
                <div
                  key={doing.keyOf(value)}
                  role="listitem"
                  className="value-row"
                  style={{ transform: `translateY(${item.start}px)`, height: ROW }}
                >
                  <Colour
                    label={`Colour of ${value.name}`}
                    hidden
                    value={value.colour ?? "#6b6b60"}
                    commit={(colour) => void doing.put(mine, { colour })}
                  />
                  <Typing
                    label={`Name of ${value.name}`}
                    hidden
                    value={value.name}
                    commit={(name) => void doing.put(mine, { name })}
                  />
                  <Picking
                    label={`Notches of ${value.name}`}
                    hidden
                    value={String(value.notches ?? 0)}
                    options={["0", "1", "2", "3", "4", "5", "6"].map(
                      (count) =>
                        [count, count === "0" ? "no notch" : count === "1" ? "1 notch" : `${count} notches`] as const,
                    )}
                    commit={(notches) => void doing.put(mine, { notches: Number(notches) })}
                  />
                  {outer ? (
                    <Picking
                      label={`${value.name} belongs to`}
                      hidden
                      value={value.within ?? ""}
                      options={[["", "any"], ...outer.map((each) => [each.id, each.name] as const)]}
                      commit={(within) => void doing.put(mine, { within: within || null })}
                    />
                  ) : (
                    <span className="value-none" />
                  )}
                  <Picking
                    label={`Symbol of ${value.name}`}
                    hidden
                    value={value.symbol ?? ""}
                    options={[["", "no symbol"], ...symbolsWith([value.symbol], game?.own_symbols)]}
                    commit={(symbol) => void doing.put(mine, { symbol: symbol || null })}
                  />
                  <ValuePicture value={value} commit={(art) => void doing.put(mine, { art })} />
                  <span className="num soft value-uses">{counted(uses[value.id] ?? 0, "card")}</span>
                  <button
                    type="button"
                    className="icon-button"
                    disabled={item.index === 0}
                    aria-label={`Move ${value.name} up`}
                    onClick={() => void doing.move(mine, -1)}
                  >
                    <ArrowUp size={14} aria-hidden="true" />
                  </button>
                  <button
                    type="button"
                    className="icon-button"
                    disabled={item.index === values.length - 1}
                    aria-label={`Move ${value.name} down`}
                    onClick={() => void doing.move(mine, 1)}
                  >
                    <ArrowDown size={14} aria-hidden="true" />
                  </button>
                  {merging === value.id ? (
                    <span className="value-merge">
                      <Picking
                        label={`Merge ${value.name} into`}
                        hidden
                        value=""
                        options={[
                          ["", "into…"],
                          ...values
                            .filter((each) => each.id !== value.id)
                            .slice(0, 500)
                            .map((each) => [each.id, each.name] as const),
                        ]}
                        commit={(to) => {
                          setMerging(null);
                          if (to) void doing.remove(mine, to);
                        }}
                      />
                    </span>
                  ) : (
                    <button
                      type="button"
                      className="icon-button"
                      disabled={values.length < 2}
                      aria-label={`Merge ${value.name} into another`}
                      title="Merge into another value: its cards and effects follow"
                      onClick={() => setMerging(value.id)}
                    >
                      <Merge size={14} aria-hidden="true" />
                    </button>
                  )}
                  <button
                    type="button"
                    className="icon-button"
                    aria-label={`Remove ${value.name}`}
                    onClick={() => void doing.remove(mine)}
                  >
                    <Trash2 size={14} aria-hidden="true" />
                  </button>
                </div>
              );
            })}
          </div>
          {!values.length && <p className="soft">No values yet: write the first below.</p>}
        </div>
        <form
          className="field-add"
          onSubmit={(event) => {
            event.preventDefault();
            void add();
          }}
        >
          <textarea
            className="input"
            rows={1}
            aria-label="New values"
            placeholder="A new value; paste a column for many"
            value={adding}
            onChange={(event) => setAdding(event.target.value)}
            onKeyDown={(event) => {
              if (event.key !== "Enter" || event.shiftKey) return;
              event.preventDefault();
              void add();
            }}
          />
          <button type="submit" className="button" disabled={!adding.trim()}>
            <Plus size={14} aria-hidden="true" /> Add
          </button>
        </form>
        {!users.length && (
          <div className="rules-remove">
            <button
              type="button"
              className="button"
              onClick={() => void takeListOut(list.id).then((done) => done && gone())}
            >
              Remove the list
            </button>
          </div>
        )}
      </div>
    </div>
  );
}

/** The values that this list's values may belong to, where a field chooses within another. */
function outerValues(list: ListDoc, rules: Rules): ValueDoc[] | null {
  for (const type of rules.types)
    for (const field of type.fields ?? []) {
      if (field.kind !== "choice" || field.list !== list.id || !field.within) continue;
      const outer = rules.types.flatMap((each) => each.fields ?? []).find((each) => each.id === field.within);
      if (outer?.kind === "choice")
        return rules.lists.find((each) => each.id === outer.list)?.values?.filter((value) => !value.retired) ?? null;
    }
  return null;
}

function ValuePicture({ value, commit }: { value: ValueDoc; commit: (art: string | null) => void }) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <span className="value-picture">
      {value.art ? (
        <button
          type="button"
          className="value-art"
          title="Remove the picture"
          aria-label={`Remove the picture of ${value.name}`}
          onClick={() => commit(null)}
        >
          <img src={`/api/art/${value.art}`} alt="" />
        </button>
      ) : (
        <button
          type="button"
          className="icon-button"
          aria-label={`Picture of ${value.name}`}
          title="A picture for this value"
          onClick={() => picker.current?.click()}
        >
          <ImagePlus size={14} aria-hidden="true" />
        </button>
      )}
      <input
        ref={picker}
        type="file"
        className="unseen"
        tabIndex={-1}
        aria-hidden="true"
        accept="image/*"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) void bringPicture(file).then((sha) => sha && commit(sha));
        }}
      />
    </span>
  );
}
