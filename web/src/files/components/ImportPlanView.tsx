// The outcome for each row and column of a table file, with fixes and additions.
import { useState } from "react";
import { IMPORTED } from "../../fieldkinds";
import { counted } from "../../ui/plural";
import type { Plan, PlanProps, Wishes } from "../importOptions";
import { Doing } from "./ReadOptions";
import { UpdateView } from "./UpdateView";

export function ImportPlanView({ plan, wishes, setWishes }: PlanProps) {
  const near = plan.refused.filter((refusal) => refusal.near).length;
  /** Each near value is written down as a correction, as if it had been accepted by hand. */
  const acceptAll = () => {
    const corrections = { ...wishes.corrections };
    for (const each of plan.refused) {
      const column = plan.columns.find((one) => one.heading.trim() === each.column);
      if (each.near && column) corrections[`${each.row}:${column.index}`] = each.near;
    }
    setWishes({ ...wishes, corrections });
  };
  const noted = plan.taken.filter((row) => row.notes.some((note) => !note.startsWith("behaviour")));
  const unwritten = plan.taken.filter((row) => row.notes.some((note) => note.startsWith("behaviour"))).length;
  return (
    <>
      <Doing plan={plan} wishes={wishes} setWishes={setWishes} />
      <Columns plan={plan} wishes={wishes} setWishes={setWishes} />
      <Making plan={plan} wishes={wishes} setWishes={setWishes} />
      {plan.warnings.map((warning) => (
        <p key={warning.what} className="needs">
          {warning.what} — {warning.mend}
        </p>
      ))}
      {plan.update && <UpdateView plan={plan} update={plan.update} wishes={wishes} setWishes={setWishes} />}
      <h3>
        Left out <span className="chip-count">{plan.refused.length}</span>
        {near > 0 && (
          <button type="button" className="small-button" onClick={acceptAll}>
            Accept {near === 1 ? "the near value" : `all ${near} near values`}
          </button>
        )}
      </h3>
      {(plan.refused.length > 0 || wishes.leave_empty) && (
        <label className="form-check">
          <input
            type="checkbox"
            checked={wishes.leave_empty}
            onChange={(event) => setWishes({ ...wishes, leave_empty: event.target.checked })}
          />{" "}
          Import them too, with the cells that can't be read left empty
        </label>
      )}
      {plan.refused.length > 0 ? (
        <table className="plan-table">
          <thead>
            <tr>
              <th scope="col">Row</th>
              <th scope="col">Column</th>
              <th scope="col">Value</th>
              <th scope="col">Problem and fix</th>
              <th scope="col">Read it as</th>
            </tr>
          </thead>
          <tbody>
            {plan.refused.slice(0, 300).map((refusal) => (
              <Refused
                key={`${refusal.row} ${refusal.column} ${refusal.value}`}
                refusal={refusal}
                plan={plan}
                wishes={wishes}
                setWishes={setWishes}
              />
            ))}
          </tbody>
        </table>
      ) : (
        <p className="soft">Every row with a card on it can be imported.</p>
      )}
      <h3>
        No cards <span className="chip-count">{plan.skipped.length}</span>
      </h3>
      <ul className="plan-list">
        {plan.skipped.slice(0, 300).map((skip) => (
          <li key={skip.row}>
            row {skip.row}: {skip.why} {skip.value && <q>{skip.value}</q>}
          </li>
        ))}
      </ul>
      <h3>
        Imported <span className="chip-count">{plan.taken_count}</span>
      </h3>
      {unwritten > 0 && (
        <p className="soft">
          {counted(
            unwritten,
            "card prints its rules text as it is and is",
            "cards print their rules text as it is and are",
          )}{" "}
          marked “behaviour not written”.
        </p>
      )}
      <ul className="plan-list">
        {noted.map((row) => (
          <li key={row.row}>
            row {row.row}, {row.code}: {row.notes.filter((note) => !note.startsWith("behaviour")).join("; ")}
          </li>
        ))}
      </ul>
    </>
  );
}

/** Which field each column feeds; a column without one can have a field made for it. */
function Columns({ plan, wishes, setWishes }: PlanProps) {
  const feed = (index: number, value: string) => {
    const fields = { ...wishes.make.fields };
    delete fields[index];
    const make = value.startsWith("make:");
    const offer = plan.fields.find((each) => each.column === index);
    const heading = plan.columns.find((each) => each.index === index)?.heading.trim() ?? "";
    const columns = { ...wishes.columns };
    if (make) {
      fields[index] = { name: offer?.name ?? heading, kind: offer?.kind ?? "text" };
      delete columns[index];
    } else columns[index] = value || null;
    setWishes({ ...wishes, columns, make: { ...wishes.make, fields } });
  };
  return (
    <>
      <h3>
        Columns
        {plan.fields.length > 0 && (
          <button
            type="button"
            className="small-button"
            onClick={() =>
              setWishes({
                ...wishes,
                make: {
                  ...wishes.make,
                  fields: {
                    ...wishes.make.fields,
                    ...Object.fromEntries(plan.fields.map(({ column, name, kind }) => [column, { name, kind }])),
                  },
                },
              })
            }
          >
            Add {plan.fields.length === 1 ? "a field" : `${plan.fields.length} fields`} for unmatched columns
          </button>
        )}
      </h3>
      <div className="plan-columns">
        {plan.columns.map((column) => {
          const name = column.heading.trim() || `column ${column.index + 1}`;
          const made = wishes.make.fields[column.index];
          return (
            <div key={column.index} className={column.target || made ? "" : "plan-out"}>
              <label>
                <span title={column.heading}>{name}</span>
                <select
                  aria-label={`Field fed by ${name}`}
                  className="select"
                  value={made ? "make:" : (column.target ?? "")}
                  onChange={(event) => feed(column.index, event.target.value)}
                >
                  <option value="">left out</option>
                  {column.heading.trim() && <option value="make:">a new field</option>}
                  {plan.targets.map((target) => (
                    <option key={target.id} value={target.id}>
                      {target.name}
                    </option>
                  ))}
                </select>
              </label>
              {made && (
                <select
                  aria-label={`Kind of the new field ${name}`}
                  className="select plan-kind"
                  value={made.kind}
                  onChange={(event) =>
                    setWishes({
                      ...wishes,
                      make: {
                        ...wishes.make,
                        fields: { ...wishes.make.fields, [column.index]: { ...made, kind: event.target.value } },
                      },
                    })
                  }
                >
                  {IMPORTED.map(([kind, said]) => (
                    <option key={kind} value={kind}>
                      {said}
                    </option>
                  ))}
                </select>
              )}
            </div>
          );
        })}
      </div>
    </>
  );
}

/** Card types and choice values that the sheet names and the game has not: made only when asked. */
function Making({ plan, wishes, setWishes }: PlanProps) {
  const lists = new Map<string, { name: string; values: Plan["values"] }>();
  for (const each of plan.values) {
    const held = lists.get(each.list) ?? { name: each.list_name, values: [] };
    lists.set(each.list, { ...held, values: [...held.values, each] });
  }
  if (!plan.types.length && !lists.size) return null;
  const make = (change: Partial<Wishes["make"]>) => setWishes({ ...wishes, make: { ...wishes.make, ...change } });
  return (
    <>
      <h3>Not in the game yet</h3>
      <div className="plan-making">
        {plan.types.map((each) => (
          <button
            key={each.name}
            type="button"
            className="small-button"
            onClick={() => make({ types: [...wishes.make.types, each.name] })}
          >
            Make card type “{each.name}” <span className="soft">{counted(each.rows, "row")}</span>
          </button>
        ))}
        {[...lists].map(([list, { name, values }]) => (
          <div key={list} className="plan-values">
            {values.map((each) => (
              <button
                key={each.value}
                type="button"
                className="small-button"
                title={each.near ? `Perhaps ${each.near} was meant` : undefined}
                onClick={() =>
                  make({
                    values: { ...wishes.make.values, [list]: [...(wishes.make.values[list] ?? []), each.value] },
                  })
                }
              >
                Add “{each.value}” to {name} <span className="soft">{counted(each.rows, "row")}</span>
              </button>
            ))}
            {values.length > 1 && (
              <button
                type="button"
                className="small-button"
                onClick={() =>
                  make({
                    values: {
                      ...wishes.make.values,
                      [list]: [...(wishes.make.values[list] ?? []), ...values.map((each) => each.value)],
                    },
                  })
                }
              >
                Add all {values.length} to {name}
              </button>
            )}
          </div>
        ))}
      </div>
    </>
  );
}

type RefusedProps = {
  refusal: Plan["refused"][number];
  plan: Plan;
  wishes: Wishes;
  setWishes: (wishes: Wishes) => void;
};

function Refused({ refusal, plan, wishes, setWishes }: RefusedProps) {
  const [text, setText] = useState(refusal.near ?? "");
  const column = plan.columns.find((each) => each.heading.trim() === refusal.column);
  const accept = (value: string) => {
    if (column && value.trim())
      setWishes({ ...wishes, corrections: { ...wishes.corrections, [`${refusal.row}:${column.index}`]: value } });
  };
  return (
    <tr>
      <td className="num">{refusal.row}</td>
      <td>{refusal.column}</td>
      <td>
        <q>{refusal.value}</q>
      </td>
      <td>
        {refusal.why}; {refusal.mend}
        {refusal.others.length > 0 && <div className="soft">also: {refusal.others.join("; ")}</div>}
      </td>
      <td className="plan-mend">
        <input
          className="input"
          aria-label={`Row ${refusal.row}, ${refusal.column}: read it as`}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => event.key === "Enter" && accept(text)}
        />
        <button type="button" className="small-button" disabled={!text.trim()} onClick={() => accept(text)}>
          {refusal.near && text === refusal.near ? `Accept ${refusal.near}` : "Accept"}
        </button>
      </td>
    </tr>
  );
}
