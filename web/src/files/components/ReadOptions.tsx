// How a table file is read, each option changeable.
import { useGame } from "../../state/store";
import type { PlanProps, Wishes } from "../importOptions";

const DELIMITERS = [
  [",", "commas"],
  [";", "semicolons"],
  ["\t", "tabs"],
  ["|", "bars"],
] as const;

/** How the file was read, each part changeable; its first lines, as they stand. */
export function ReadOptions({ plan, wishes, setWishes }: PlanProps) {
  const set = (change: Partial<Wishes>) => setWishes({ ...wishes, columns: {}, corrections: {}, ...change });
  return (
    <section className="reading" aria-label="How the file is read">
      <div className="reading-how">
        {plan.kind === "workbook" && (
          <label>
            Sheet{" "}
            <select
              className="select"
              value={plan.sheet}
              onChange={(event) => set({ sheet: event.target.value, header: undefined })}
            >
              {plan.sheets.map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          </label>
        )}
        {plan.kind === "text" && (
          <>
            <label>
              Encoding{" "}
              <select
                className="select"
                value={plan.encoding}
                onChange={(event) => set({ encoding: event.target.value })}
              >
                {[...new Set([plan.encoding, ...plan.encodings])].map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </select>
            </label>
            <label>
              Separator{" "}
              <select
                className="select"
                value={DELIMITERS.find(([, name]) => name === plan.delimiter)?.[0] ?? ","}
                onChange={(event) => set({ delimiter: event.target.value, header: undefined })}
              >
                {DELIMITERS.map(([value, name]) => (
                  <option key={value} value={value}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          </>
        )}
        {plan.kind === "JSON" && <span>JSON, {plan.encoding}</span>}
        {plan.kind !== "JSON" && (
          <label>
            Header in row{" "}
            <input
              key={plan.header}
              className="input reading-row"
              type="number"
              min={1}
              max={plan.rows + 1}
              defaultValue={plan.header}
              onBlur={(event) => {
                const row = Number(event.target.value);
                if (row >= 1 && row !== plan.header) set({ header: row });
              }}
              onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
            />
          </label>
        )}
      </div>
      {plan.problem && (
        <p role="alert" className="trouble">
          <b className="needs">{plan.problem.what}</b> — {plan.problem.mend}; or match the columns below by hand
        </p>
      )}
      <details open={plan.problem !== null && plan.problem !== undefined}>
        <summary>First lines, as they stand</summary>
        <div className="reading-lines">
          <table>
            <tbody>
              {plan.lines.map((line, index) => (
                <tr key={index} className={index + 1 === plan.header ? "reading-header" : ""}>
                  <th scope="row">
                    <button
                      type="button"
                      className="link num"
                      title="The header is in this row"
                      onClick={() => set({ header: index + 1 })}
                    >
                      {index + 1}
                    </button>
                  </th>
                  {line.map((cell, place) => (
                    <td key={place}>{cell}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </details>
      {plan.notes.map((note) => (
        <p key={note} className="needs">
          {note}
        </p>
      ))}
    </section>
  );
}

/** Into which set, and whether the rows are new cards or about cards that are there. */
export function Doing({ plan, wishes, setWishes }: PlanProps) {
  const game = useGame((state) => state.game);
  if (!game) return null;
  const set = (change: Partial<Wishes>) => setWishes({ ...wishes, ...change });
  const types = game.types;
  return (
    <div className="plan-set">
      <fieldset className="look" aria-label="What the rows are">
        {(
          [
            ["new", "New cards"],
            ["code", "Update by code"],
            ["name", "Update by name"],
          ] as const
        ).map(([value, name]) => (
          <button
            key={value}
            type="button"
            aria-pressed={wishes.match === value}
            onClick={() => set({ match: value, leave_out: ["gone"], over: [] })}
          >
            {name}
          </button>
        ))}
      </fieldset>
      <label>
        {wishes.match === "new" ? "Into" : "Cards of"}{" "}
        <select
          className="select"
          value={wishes.set_id ?? ""}
          onChange={(event) => set({ set_id: event.target.value || undefined })}
        >
          <option value="">{wishes.match === "new" ? "a new set" : "every set"}</option>
          {game.sets.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </select>
      </label>
      {!wishes.set_id && (wishes.match === "new" || (plan.update?.added ?? 0) > 0) && (
        <label>
          {wishes.match === "new" ? "called" : "new cards go to"}{" "}
          <input
            key={plan.set_name}
            className="input"
            defaultValue={plan.set_name}
            aria-label={wishes.match === "new" ? "Name of the new set" : "Set of the new cards"}
            onBlur={(event) => event.target.value !== plan.set_name && set({ set_name: event.target.value })}
          />
          <span className="soft">
            {wishes.match !== "new" && game.sets.some((each) => each.name === plan.set_name)
              ? " a set of this game"
              : ` a new set, ${plan.set_code}-001…`}
          </span>
        </label>
      )}
      {!plan.columns.some((column) => column.target === "type") && (
        <label>
          They are{" "}
          <input
            className="input plan-type"
            list="import-types"
            aria-label="Card type of every row"
            placeholder={types[0]?.name}
            defaultValue={types.find((each) => each.id === wishes.default_type)?.name ?? wishes.default_type ?? ""}
            onBlur={(event) => {
              const said = event.target.value.trim();
              const known = types.find((each) => each.name.toLowerCase() === said.toLowerCase());
              const made = said && !known ? [said] : [];
              set({ default_type: known?.id ?? (said || undefined), make: { ...wishes.make, types: made } });
            }}
            onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
          />
          <datalist id="import-types">
            {types.map((each) => (
              <option key={each.id} value={each.name} />
            ))}
          </datalist>
        </label>
      )}
    </div>
  );
}
