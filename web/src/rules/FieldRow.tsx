// One field of a card type: name, kind, and what its kind needs.
import { ArrowDown, ArrowUp, ChevronDown, ChevronRight, Trash2 } from "lucide-react";
import { useState } from "react";
import { Picking, Ticking, Typing } from "../ui/Typing";
import type { FieldDoc, Rules } from "./useRules";

export const KINDS = [
  ["number", "Number"],
  ["choice", "Choice"],
  ["choices", "Several choices"],
  ["tags", "Tags"],
  ["text", "Short text"],
  ["longtext", "Long text"],
  ["effect", "Effect"],
  ["picture", "Picture"],
  ["yesno", "Yes or no"],
  ["derived", "Derived"],
] as const;

export type Kind = (typeof KINDS)[number][0];

export const kindOf = (field: FieldDoc): Kind =>
  field.kind === "text" && field.long ? "longtext" : ((field.kind ?? "text") as Kind);

/** What every kind of field has, kept when the kind changes. */
const COMMON = ["id", "name", "help", "required", "hide_empty", "default", "retired"] as const;

/** A field as another kind: what both have is kept. */
export function asKind(field: FieldDoc, kind: Kind, lists: Rules["lists"]): FieldDoc {
  const common = Object.fromEntries(COMMON.filter((key) => key in field).map((key) => [key, field[key]]));
  const list = lists[0]?.id ?? "";
  const more: Record<Kind, object> = {
    number: { kind: "number" },
    choice: { kind: "choice", list: "list" in field ? field.list : list },
    choices: { kind: "choices", list: "list" in field ? field.list : list },
    tags: { kind: "tags" },
    text: { kind: "text", long: false },
    longtext: { kind: "text", long: true },
    effect: { kind: "effect" },
    picture: { kind: "picture" },
    yesno: { kind: "yesno" },
    derived: { kind: "derived", formula: "0" },
  };
  return { ...common, ...more[kind] } as FieldDoc;
}

type Props = {
  field: FieldDoc;
  rules: Rules;
  siblings: FieldDoc[];
  symbols: string[];
  first: boolean;
  last: boolean;
  change: (field: FieldDoc) => void;
  move: (by: number) => void;
  remove: () => void;
};

export function FieldRow({ field, rules, siblings, symbols, first, last, change, move, remove }: Props) {
  const [open, setOpen] = useState(false);
  const put = (part: Partial<Record<string, unknown>>) => change({ ...field, ...part } as FieldDoc);
  const holds = rules.holds[field.id] ?? 0;
  const role = rules.roles[field.id];
  return (
    <li className="field-row">
      <div className="field-line">
        <button
          type="button"
          className="icon-button"
          aria-expanded={open}
          aria-label={`More of ${field.name}`}
          onClick={() => setOpen(!open)}
        >
          {open ? <ChevronDown size={15} aria-hidden="true" /> : <ChevronRight size={15} aria-hidden="true" />}
        </button>
        <Typing label={`Name of the field ${field.name}`} hidden value={field.name} commit={(name) => put({ name })} />
        <Picking
          label={`Kind of ${field.name}`}
          hidden
          value={kindOf(field)}
          options={KINDS}
          commit={(kind) => change(asKind(field, kind as Kind, rules.lists))}
        />
        <Brief field={field} rules={rules} put={put} />
        <span className="field-facts soft">
          {role && <span title="The game's rules use this field">{role}</span>}
          {field.kind !== "derived" && <span>{holds} filled</span>}
        </span>
        <button
          type="button"
          className="icon-button"
          disabled={first}
          aria-label={`Move ${field.name} up`}
          onClick={() => move(-1)}
        >
          <ArrowUp size={14} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="icon-button"
          disabled={last}
          aria-label={`Move ${field.name} down`}
          onClick={() => move(1)}
        >
          <ArrowDown size={14} aria-hidden="true" />
        </button>
        <button
          type="button"
          className="icon-button"
          aria-label={`Put ${field.name} away`}
          title={holds ? "Remove; its values stay on the cards, hidden" : "Remove"}
          onClick={remove}
        >
          <Trash2 size={14} aria-hidden="true" />
        </button>
      </div>
      {open && (
        <div className="field-more form form-row">
          <Typing label="Help" value={field.help ?? ""} className="help-input" commit={(help) => put({ help })} />
          {field.kind !== "derived" && (
            <Typing
              label="New cards start with"
              value={field.default ?? ""}
              placeholder="empty"
              commit={(text) => put({ default: text })}
            />
          )}
          {field.kind === "number" && (
            <Picking
              label="Symbol"
              value={field.symbol ?? ""}
              options={[["", "none"], ...symbols.map((symbol) => [symbol, symbol] as const)]}
              commit={(symbol) => put({ symbol: symbol || null })}
            />
          )}
          {field.kind === "choice" && (
            <Picking
              label="Depends on"
              value={field.within ?? ""}
              options={[
                ["", "any: all values offered"],
                ...siblings
                  .filter((each) => each.kind === "choice" && each.id !== field.id)
                  .map((each) => [each.id, each.name] as const),
              ]}
              commit={(within) => put({ within: within || null })}
            />
          )}
          {field.kind === "picture" && (
            <Picking
              label="Side"
              value={field.side ?? "front"}
              options={[
                ["front", "front"],
                ["back", "back: it is the card’s own back"],
              ]}
              commit={(side) => put({ side })}
            />
          )}
          {field.kind === "text" && (
            <Typing
              label="Most characters"
              number
              value={String(field.most ?? 2000)}
              commit={(most) => put({ most: Number(most) })}
            />
          )}
          {field.kind !== "derived" && (
            <Ticking
              label="Required"
              help="Cards without it are unfinished"
              value={field.required ?? false}
              commit={(required) => put({ required })}
            />
          )}
          <Ticking
            label="Hidden when empty"
            help="Left off the face and the card’s pane while it is empty"
            value={field.hide_empty ?? false}
            commit={(hide) => put({ hide_empty: hide })}
          />
        </div>
      )}
    </li>
  );
}

type BriefProps = { field: FieldDoc; rules: Rules; put: (part: Partial<Record<string, unknown>>) => void };

/** What a kind needs at once: bounds, a list, a formula. */
function Brief({ field, rules, put }: BriefProps) {
  switch (field.kind) {
    case "number":
      return (
        <span className="field-brief">
          <Typing
            label={`Least of ${field.name}`}
            hidden
            number
            value={String(field.least ?? 0)}
            commit={(least) => put({ least: Number(least) })}
          />
          to
          <Typing
            label={`Most of ${field.name}`}
            hidden
            number
            value={String(field.most ?? 99)}
            commit={(most) => put({ most: Number(most) })}
          />
          <Ticking label="whole" value={field.whole ?? true} commit={(whole) => put({ whole })} />
        </span>
      );
    case "choice":
    case "choices":
      return (
        <span className="field-brief">
          from
          <Picking
            label={`List of ${field.name}`}
            hidden
            value={field.list}
            options={rules.lists.map((list) => [list.id, list.name] as const)}
            commit={(list) => put({ list })}
          />
        </span>
      );
    case "derived":
      return (
        <span className="field-brief">
          =
          <Typing
            label={`Formula of ${field.name}`}
            hidden
            className="formula-input"
            value={field.formula}
            commit={(formula) => put({ formula })}
          />
        </span>
      );
    default:
      return <span className="field-brief" />;
  }
}
