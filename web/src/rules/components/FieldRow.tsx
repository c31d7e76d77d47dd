// One field of a card type: name, kind, and the settings of the kind.
import { ArrowDown, ArrowUp, ChevronDown, ChevronRight, Trash2 } from "lucide-react";
import { useState } from "react";
import { recordOf } from "../../fieldkinds";
import { asKind, editorOf, OFFERED, offeredAs } from "../../fieldkinds/editors";
import type { FieldDoc, Rules } from "../../state/cardRules";
import type { Field } from "../../state/client";
import { Picking, Ticking, Typing } from "../../ui/Typing";

type Props = {
  field: FieldDoc;
  rules: Rules;
  siblings: FieldDoc[];
  symbols: (readonly [string, string])[];
  first: boolean;
  last: boolean;
  change: (field: FieldDoc) => void;
  move: (by: number) => void;
  remove: () => void;
};

export function FieldRow({ field, rules, siblings, symbols, first, last, change, move, remove }: Props) {
  const [open, setOpen] = useState(false);
  const put = (part: Partial<Record<string, unknown>>) => change({ ...field, ...part } as FieldDoc);
  const { Brief, More } = editorOf(field);
  const { typed } = recordOf(field as Field);
  const own = { field, rules, siblings, symbols, put };
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
          value={offeredAs(field)}
          options={OFFERED}
          commit={(kind) => change(asKind(field, kind, rules.lists))}
        />
        <span className="field-brief">{Brief && <Brief {...own} />}</span>
        <span className="field-facts soft">
          {role && <span title="The game's rules use this field">{role}</span>}
          {typed && <span>{holds} filled</span>}
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
          {typed && (
            <Typing
              label="New cards start with"
              value={field.default ?? ""}
              placeholder="empty"
              commit={(text) => put({ default: text })}
            />
          )}
          {More && <More {...own} />}
          {typed && (
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
