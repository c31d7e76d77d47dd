// One card type: its parent, fields, behaviour after play, back.
import { Plus, RotateCcw } from "lucide-react";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { asKind, OFFERED } from "../../fieldkinds/editors";
import { type FieldDoc, type Rules, type TypeDoc, takeTypeOut, useTypeWriter } from "../../state/cardRules";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";
import { Picking, Ticking, Typing } from "../../ui/Typing";
import { symbolsWith } from "../symbols";
import { fetchRules, useDocDraft } from "../useDocDraft";
import { useFocusRequest } from "../useFocusRequest";
import { BackEditor } from "./BackEditor";
import { FieldRow } from "./FieldRow";
import { FieldUsage } from "./FieldUsage";
import { ProblemLine } from "./ProblemLine";

type Props = { type: TypeDoc; rules: Rules; choose: (type: string) => void };

/** The types from the root of the inheritance to the one that is extended. */
function parents(type: TypeDoc, rules: Rules): TypeDoc[] {
  const parent = rules.types.find((each) => each.id === type.extends);
  return parent && parent.id !== type.id ? [...parents(parent, rules), parent] : [];
}

const isField = (one: FieldDoc, other: FieldDoc): boolean => (other.id ? one.id === other.id : one.name === other.name);

/** Kinds of field whose words can say what a drawn picture shows. */
const HINTS = ["text", "tags", "choice", "choices"];

export function TypeEditor({ type, rules, choose }: Props) {
  const { write, put, trouble, setTrouble, asked, setAsked } = useTypeWriter();
  const {
    draft,
    edit: change,
    giveUp: showAsItIs,
  } = useDocDraft(type, {
    fetched: async () => (await fetchRules())?.types.find((each) => each.id === type.id),
    write,
  });
  const [adding, setAdding] = useState({ name: "", kind: "number" });
  const game = useGame((state) => state.game);
  const order = useGame((state) => state.order);
  const cards = useGame((state) => state.cards);
  const own = (draft.fields ?? []).filter((field) => !field.retired);
  const away = (draft.fields ?? []).filter((field) => field.retired);
  const inherited = parents(type, rules);
  const heirs = rules.types.filter((each) => parents(each, rules).some((parent) => parent.id === type.id));
  // A field can be chosen elsewhere once the server has given it an id.
  const siblings = [...inherited.flatMap((each) => each.fields ?? []), ...own].filter(
    (field) => field.id && !field.retired,
  );
  const kinds = new Set([type.id, ...heirs.map((each) => each.id)]);
  const samples = order.filter((id) => kinds.has(cards[id]?.type ?? "")).slice(0, 3);
  const count = rules.cards[type.id] ?? 0;

  const edit = (part: Partial<TypeDoc>) => void change((doc) => ({ ...doc, ...part }));
  /** The fields in use, in order; those that were removed stay after them. */
  const fields = (next: (own: FieldDoc[]) => FieldDoc[]) =>
    change((doc) => {
      const all = doc.fields ?? [];
      return { ...doc, fields: [...next(all.filter((each) => !each.retired)), ...all.filter((each) => each.retired)] };
    });
  const giveUp = () => {
    showAsItIs();
    setTrouble(null);
    setAsked(null);
  };
  const newField = useFocusRequest("field");
  /** React keys by field id. A field that was just added has no id yet: its key is made from its name, and it keeps that key. */
  const keys = useRef(new Map<string, string>());
  const added = useRef(new Set<string>());
  const keyOf = (field: FieldDoc): string => {
    const fresh = `fresh/${field.name}`;
    if (!field.id) {
      added.current.add(field.name);
      return fresh;
    }
    const known = keys.current.get(field.id);
    const key = known ?? (added.current.has(field.name) ? fresh : field.id);
    keys.current.set(field.id, key);
    return key;
  };
  const add = async () => {
    if (!adding.name.trim()) return;
    const { name, kind } = adding;
    const plain = asKind({ id: "", name: name.trim(), kind: "text" } as FieldDoc, kind, rules.lists);
    // What is typed next must not be lost to the answer: the line is free at once, and filled again where it was refused.
    setAdding({ name: "", kind });
    newField.current?.focus();
    const done = await fields((all) => [...all, plain]);
    if (!done) setAdding((now) => (now.name ? now : { ...now, name }));
  };
  const symbols = symbolsWith(
    (game?.fields ?? []).map((each) => (each.kind === "number" ? each.symbol : null)),
    game?.own_symbols,
  );
  return (
    <div className="rules-editor">
      <div className="rules-main">
        <h2 className="rules-title">{type.name}</h2>
        <p className="soft">
          {counted(count, "card")} of this type
          {heirs.length > 0 && ` · extended by ${heirs.map((each) => each.name).join(", ")}`}
          {" · "}
          <Link to={`/${game?.id}/faces?type=${type.id}`}>its face plan</Link>
        </p>
        <div className="form form-row">
          <Typing label="Name" value={draft.name} commit={(name) => edit({ name })} />
          <Picking
            label="Extends"
            value={draft.extends ?? ""}
            options={[
              ["", "nothing"],
              ...rules.types.filter((each) => each.id !== type.id).map((each) => [each.id, each.name] as const),
            ]}
            commit={(extended) => edit({ extends: extended || null })}
          />
          <Picking
            label="Cards without a picture show"
            value={draft.picture ?? "pattern"}
            options={[
              ["pattern", "a pattern"],
              ["figure", "a person"],
              ["creature", "a creature"],
              ["object", "a thing"],
              ["growth", "a plant"],
              ["sky", "a sky"],
              ["tool", "a garden tool"],
            ]}
            commit={(picture) => edit({ picture: picture as never })}
          />
          <Picking
            label="What it shows follows"
            value={draft.hint ?? ""}
            options={[
              ["", "name and tags"],
              ...siblings
                .filter((each) => HINTS.includes(each.kind ?? ""))
                .map((each) => [each.id, each.name] as const),
            ]}
            commit={(hint) => edit({ hint })}
          />
          <Ticking label="Stays in play" value={draft.stays ?? true} commit={(stays) => edit({ stays })} />
          <Ticking
            label="Base type (no cards)"
            help="No card is of this type itself; others extend it"
            value={draft.abstract ?? false}
            commit={(abstract) => edit({ abstract })}
          />
        </div>
        <ProblemLine trouble={trouble} giveUp={giveUp} />
        {asked && (
          <section className="rules-asked" aria-label="What this changes">
            {asked.plan.moved.map((each) => (
              <div key={each.field}>
                <p>
                  <b>{each.name}</b> becomes another kind: {each.kept}{" "}
                  {each.kept === 1 ? "value converts" : "values convert"}
                  {each.lost.length > 0 && (
                    <>
                      , <b className="needs">{counted(each.lost.length, "does", "do")} not</b>. What they held is kept
                      in “{each.kept_as}”, put away with this type
                    </>
                  )}
                  .
                </p>
                {each.lost.length > 0 && (
                  <ul className="rules-lost">
                    {each.lost.slice(0, 40).map((lost) => (
                      <li key={lost.card}>
                        <span className="num soft">{cards[lost.card]?.code}</span> {cards[lost.card]?.title}:{" "}
                        <q>{lost.text.slice(0, 60)}</q> <span className="soft">{lost.why}</span>
                      </li>
                    ))}
                    {each.lost.length > 40 && <li className="soft">and {each.lost.length - 40} more</li>}
                  </ul>
                )}
              </div>
            ))}
            <button type="button" className="button button-main" onClick={() => void put(asked.doc)}>
              Change the kind
            </button>{" "}
            <button type="button" className="button" onClick={giveUp}>
              Leave it as it was
            </button>
          </section>
        )}
        <h3>Fields</h3>
        {inherited.map((parent) => (
          <p key={parent.id} className="rules-inherited">
            From{" "}
            <button type="button" className="link" onClick={() => choose(parent.id)}>
              {parent.name}
            </button>
            :{" "}
            {(parent.fields ?? [])
              .filter((field) => !field.retired)
              .map((field) => field.name)
              .join(", ") || "nothing"}
          </p>
        ))}
        <ul className="field-list">
          {own.map((field, place) => (
            <FieldRow
              key={keyOf(field)}
              field={field}
              rules={rules}
              siblings={siblings}
              symbols={symbols}
              first={place === 0}
              last={place === own.length - 1}
              change={(next) =>
                void fields((all) => all.map((each) => (isField(each, field) ? { ...next, id: each.id } : each)))
              }
              move={(by) =>
                void fields((all) => {
                  const next = [...all];
                  const from = next.findIndex((each) => isField(each, field));
                  if (from >= 0) next.splice(from + by, 0, ...next.splice(from, 1));
                  return next;
                })
              }
              remove={() => void fields((all) => all.filter((each) => !isField(each, field)))}
            />
          ))}
        </ul>
        <form
          className="field-add"
          onSubmit={(event) => {
            event.preventDefault();
            void add();
          }}
        >
          <input
            ref={newField}
            className="input"
            aria-label="Name of a new field"
            placeholder="A new field"
            value={adding.name}
            onChange={(event) => setAdding({ ...adding, name: event.target.value })}
          />
          <Picking
            label="Kind of the new field"
            hidden
            value={adding.kind}
            options={OFFERED}
            commit={(kind) => setAdding({ ...adding, kind })}
          />
          <button type="submit" className="button" disabled={!adding.name.trim()}>
            <Plus size={14} aria-hidden="true" /> Add field
          </button>
        </form>
        {away.length > 0 && (
          <section className="rules-away" aria-label="Removed fields">
            <h3>Removed fields</h3>
            {away.map((field) => (
              <p key={field.id}>
                {field.name}{" "}
                <span className="soft">
                  {counted(rules.holds[field.id] ?? 0, "card still holds", "cards still hold")} a value
                </span>
                <button
                  type="button"
                  className="small-button"
                  onClick={() =>
                    void change((doc) => ({
                      ...doc,
                      fields: (doc.fields ?? []).map((each) =>
                        each.id === field.id ? { ...each, retired: false } : each,
                      ),
                    }))
                  }
                >
                  <RotateCcw size={12} aria-hidden="true" /> Restore
                </button>
              </p>
            ))}
          </section>
        )}
        <h3>Back</h3>
        <BackEditor
          of="This type has"
          back={draft.back}
          otherwise={
            type.extends
              ? "It has the back of what it extends, unless its set has one."
              : "A plain back with the game’s name."
          }
          change={(back) => edit({ back: (back as never) ?? null })}
        />
        <FieldUsage types={kinds} />
        <RemoveType type={type} rules={rules} count={count} choose={choose} />
      </div>
      <section className="rules-faces mat" aria-label="Cards of this type" tabIndex={0}>
        {samples.map((id) => (
          <Face key={id} card={id} title={cards[id]?.title ?? ""} />
        ))}
        {!samples.length && <p className="on-mat-soft">No card of this type yet.</p>}
      </section>
    </div>
  );
}

type RemoveProps = { type: TypeDoc; rules: Rules; count: number; choose: (type: string) => void };

function RemoveType({ type, rules, count, choose }: RemoveProps) {
  const others = rules.types.filter((each) => each.id !== type.id && !each.abstract);
  const [to, setTo] = useState("");
  const target = to || (others[0]?.id ?? "");
  const remove = async () => {
    if (await takeTypeOut(type.id, count ? target : null)) choose(others[0]?.id ?? rules.types[0]?.id ?? "");
  };
  return (
    <div className="rules-remove form form-row">
      {count > 0 && (
        <Picking
          label={`Its ${counted(count, "card becomes", "cards become")}`}
          value={target}
          options={others.map((each) => [each.id, each.name] as const)}
          commit={setTo}
        />
      )}
      <button type="button" className="button" disabled={count > 0 && !target} onClick={() => void remove()}>
        Remove {type.name}
      </button>
    </div>
  );
}
