// The additions, changed cells and removals of an update; each can be excluded.
import { useState } from "react";
import { counted } from "../../ui/plural";
import type { Plan, Wishes } from "../importOptions";

type Update = NonNullable<Plan["update"]>;
type Props = { plan: Plan; update: Update; wishes: Wishes; setWishes: (wishes: Wishes) => void };
const PIECE = 200;

export function UpdateView({ plan, update, wishes, setWishes }: Props) {
  const [most, setMost] = useState(PIECE);
  const out = new Set(wishes.leave_out);
  const over = new Set(wishes.over);
  const turn = (key: string) => {
    const next = new Set(out);
    if (!next.delete(key)) next.add(key);
    setWishes({ ...wishes, leave_out: [...next] });
  };
  const turnOver = (key: string) => {
    const next = new Set(over);
    if (!next.delete(key)) next.add(key);
    setWishes({ ...wishes, over: [...next] });
  };
  const plain = update.cells.filter((cell) => !cell.conflict);
  const conflicts = update.cells.filter((cell) => cell.conflict);
  return (
    <>
      {conflicts.length > 0 && (
        <>
          <h3>
            Changed in both <span className="chip-count chip-needs">{update.conflicts}</span>
          </h3>
          <p className="soft">
            These cells were changed here since the sheet was last taken. Yours stay unless you say otherwise.
          </p>
          <table className="plan-table">
            <thead>
              <tr>
                <th scope="col">Card</th>
                <th scope="col">Field</th>
                <th scope="col">Was in the sheet</th>
                <th scope="col">Here now</th>
                <th scope="col">In the sheet now</th>
                <th scope="col">Keep</th>
              </tr>
            </thead>
            <tbody>
              {conflicts.map((cell) => (
                <tr key={cell.key}>
                  <td>{cell.title}</td>
                  <td>{cell.name}</td>
                  <td className="soft">{cell.theirs || "empty"}</td>
                  <td className={over.has(cell.key) ? "" : "plan-kept"}>{cell.before || "empty"}</td>
                  <td className={over.has(cell.key) ? "plan-kept" : ""}>{cell.after || "empty"}</td>
                  <td>
                    <fieldset className="look" aria-label={`${cell.title}, ${cell.name}: keep`}>
                      <button
                        type="button"
                        aria-pressed={!over.has(cell.key)}
                        onClick={() => over.has(cell.key) && turnOver(cell.key)}
                      >
                        Here
                      </button>
                      <button
                        type="button"
                        aria-pressed={over.has(cell.key)}
                        onClick={() => !over.has(cell.key) && turnOver(cell.key)}
                      >
                        Sheet
                      </button>
                    </fieldset>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      <h3>
        <Group on={!out.has("changed")} turn={() => turn("changed")} disabled={!plain.length}>
          Change {counted(update.changed - update.conflicts, "cell")}
        </Group>
        <span className="soft">
          {counted(update.same, "card stays as it is", "cards stay as they are")}
          {update.kept > 0 && `, ${update.kept} cells changed here that the sheet left alone`}
        </span>
      </h3>
      {plain.length > 0 && !out.has("changed") && (
        <table className="plan-table plan-cells">
          <tbody>
            {plain.slice(0, most).map((cell) => (
              <tr key={cell.key} className={out.has(cell.key) ? "plan-left" : ""}>
                <td>
                  <input
                    type="checkbox"
                    checked={!out.has(cell.key)}
                    aria-label={`Change ${cell.title}, ${cell.name}`}
                    onChange={() => turn(cell.key)}
                  />
                </td>
                <td className="soft num">{cell.code}</td>
                <td>{cell.title}</td>
                <td className="soft">{cell.name}</td>
                <td>
                  <del>{cell.before || "empty"}</del>
                </td>
                <td>
                  <ins>{cell.after || "empty"}</ins>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {plain.length > most && (
        <button type="button" className="small-button" onClick={() => setMost(most + PIECE)}>
          Show more: {most} of {plain.length} so far
        </button>
      )}
      <h3>
        <Group on={!out.has("added")} turn={() => turn("added")} disabled={!update.added}>
          Add {counted(update.added, "card")}
        </Group>
      </h3>
      {update.added > 0 && !out.has("added") && (
        <ul className="plan-list">
          {plan.taken
            .filter((row) => row.new)
            .map((row) => (
              <li key={row.row}>
                <label>
                  <input
                    type="checkbox"
                    checked={!out.has(`added/${row.row}`)}
                    onChange={() => turn(`added/${row.row}`)}
                  />{" "}
                  {row.code} {row.name}
                </label>
              </li>
            ))}
        </ul>
      )}
      <h3>
        <Group on={!out.has("gone")} turn={() => turn("gone")} disabled={!update.gone}>
          Remove {counted(update.gone, "card")} that the sheet does not name
        </Group>
      </h3>
      {update.gone > 0 && !out.has("gone") && (
        <ul className="plan-list">
          {update.gone_cards.map((card) => (
            <li key={card.key}>
              <label>
                <input type="checkbox" checked={!out.has(card.key)} onChange={() => turn(card.key)} /> {card.code}{" "}
                {card.title}
              </label>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

type GroupProps = { on: boolean; turn: () => void; disabled: boolean; children: React.ReactNode };

function Group({ on, turn, disabled, children }: GroupProps) {
  return (
    <label className="plan-group">
      <input type="checkbox" checked={on && !disabled} disabled={disabled} onChange={turn} /> {children}
    </label>
  );
}
