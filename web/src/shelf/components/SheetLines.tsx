// The outcome for the lines of a table file: left out with a fix, read differently, or not a card.
import { useState } from "react";
import { counted } from "../../ui/plural";
import type { SheetLook, SheetWishes } from "../useShelf";

type Refused = SheetLook["refused"][number];
type Props = {
  look: SheetLook;
  wishes: SheetWishes;
  setWishes: (change: (before: SheetWishes) => SheetWishes) => void;
};

export function SheetLines({ look, wishes, setWishes }: Props) {
  const near = look.refused.filter((each) => each.near && each.place !== null);
  const correct = (lines: [Refused, string][]) =>
    setWishes((before) => {
      const corrections = { ...before.corrections };
      for (const [line, text] of lines) corrections[`${line.row}:${line.place}`] = text;
      return { ...before, corrections };
    });
  const more = look.refused_count - look.refused.length;
  return (
    <>
      {(look.refused_count > 0 || wishes.leave_empty) && (
        <section className="sheet-lines" aria-label="Lines left out">
          <h3>Lines left out</h3>
          <div className="form-row">
            <label className="form-check">
              <input
                type="checkbox"
                checked={wishes.leave_empty ?? false}
                onChange={(event) => {
                  const leave_empty = event.target.checked;
                  setWishes((before) => ({ ...before, leave_empty }));
                }}
              />{" "}
              Import them too, with the cells that can't be read left empty
            </label>
            {near.length > 0 && (
              <button
                type="button"
                className="small-button"
                onClick={() => correct(near.map((each) => [each, each.near ?? ""]))}
              >
                Accept {near.length === 1 ? "the near value" : `all ${near.length} near values`}
              </button>
            )}
          </div>
          {look.refused.length > 0 && (
            <table className="sheet-lines-table">
              <thead>
                <tr>
                  <th scope="col">Line</th>
                  <th scope="col">Column</th>
                  <th scope="col">Cell</th>
                  <th scope="col">Problem and fix</th>
                  <th scope="col">Read it as</th>
                </tr>
              </thead>
              <tbody>
                {look.refused.map((each) => (
                  <Line key={`${each.row} ${each.column} ${each.value}`} line={each} correct={correct} />
                ))}
              </tbody>
            </table>
          )}
          {more > 0 && <p className="soft">and {counted(more, "more line")} of the same kind</p>}
        </section>
      )}
      {look.otherwise.length > 0 && (
        <details className="sheet-lines">
          <summary>{counted(look.otherwise.length, "line is", "lines are")} not read exactly as written</summary>
          <ul>
            {look.otherwise.map((each) => (
              <li key={each.row}>
                Line {each.row}, <b dir="auto">{each.name || "no name"}</b>: {each.notes.join("; ")}
              </li>
            ))}
          </ul>
        </details>
      )}
      {look.no_cards.length > 0 && (
        <details className="sheet-lines">
          <summary>{counted(look.no_card_count, "line is not a card", "lines are not cards")}</summary>
          <ul>
            {look.no_cards.map((each) => (
              <li key={each.row}>
                Line {each.row}: {each.why} {each.value && <q dir="auto">{each.value}</q>}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

function Line({ line, correct }: { line: Refused; correct: (lines: [Refused, string][]) => void }) {
  const [text, setText] = useState(line.near ?? "");
  const able = line.place !== null;
  return (
    <tr>
      <td className="num">{line.row}</td>
      <td>{line.column}</td>
      <td>
        <q dir="auto">{line.value}</q>
      </td>
      <td>
        {line.why}; {line.mend}
        {line.others.length > 0 && <div className="soft">also: {line.others.join("; ")}</div>}
      </td>
      <td>
        {able && (
          <div className="sheet-lines-fix">
            <input
              className="input"
              dir="auto"
              aria-label={`Line ${line.row}, ${line.column}: read it as`}
              placeholder="empty"
              value={text}
              onChange={(event) => setText(event.target.value)}
              onKeyDown={(event) => event.key === "Enter" && correct([[line, text]])}
            />
            <button type="button" className="small-button" onClick={() => correct([[line, text]])}>
              {text ? "Use" : "Leave empty"}
            </button>
          </div>
        )}
      </td>
    </tr>
  );
}
