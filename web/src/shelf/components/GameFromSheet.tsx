// Preview of a table file as a new game: the kind of each column, and the outcome for each line.
import { useEffect, useRef, useState } from "react";
import { IMPORTED } from "../../fieldkinds";
import { ApiError, type Problem } from "../../state/client";
import { counted } from "../../ui/plural";
import {
  beginFromSheet,
  type ColumnWish,
  lookAtSheet,
  type SheetLook,
  type SheetWishes,
  type Shelved,
} from "../useShelf";
import { ProblemNote } from "./ProblemNote";
import { SheetLines } from "./SheetLines";

const KINDS: Record<string, string> = {
  ...Object.fromEntries(IMPORTED),
  choice: "one of a list",
  choices: "several of a list",
  back: "picture on the back",
  effect: "rules text",
  type: "the card type",
  code: "the code",
  out: "left out",
};
const ROLES: Record<string, string> = {
  "": "—",
  name: "the name",
  cost: "the cost",
  rarity: "the rarity",
  faction: "the faction",
  copies: "the copies",
  tags: "the tags",
  stat: "a stat",
};

type Props = { file: File; begun: (game: Shelved) => void; cancel: () => void };

export function GameFromSheet({ file, begun, cancel }: Props) {
  const [name, setName] = useState(() => titleOf(file.name));
  const [wishes, setWishes] = useState<SheetWishes>({ columns: {} });
  const [look, setLook] = useState<SheetLook | null>(null);
  const [trouble, setTrouble] = useState<Problem | null>(null);
  const [busy, setBusy] = useState(false);
  const latest = useRef(0);
  useEffect(() => {
    latest.current += 1;
    const mine = latest.current;
    lookAtSheet(file, wishes).then(
      (found) => {
        if (mine !== latest.current) return;
        setLook(found);
        setTrouble(null);
      },
      (error: unknown) => {
        if (mine === latest.current && error instanceof ApiError) setTrouble(error.problem);
      },
    );
  }, [file, wishes]);
  const wish = (index: number, part: ColumnWish) =>
    setWishes((before) => ({
      ...before,
      columns: { ...before.columns, [index]: { ...before.columns?.[index], ...part } },
    }));
  const begin = async () => {
    setBusy(true);
    try {
      begun(await beginFromSheet(file, name, wishes));
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      setTrouble(error.problem);
      setBusy(false);
    }
  };
  return (
    <section className="sheet-game" aria-label="The sheet as a game">
      <header className="sheet-game-head">
        <label className="labelled">
          Name of the game
          <input className="input" dir="auto" value={name} maxLength={200} onChange={(e) => setName(e.target.value)} />
        </label>
        <p className="sheet-game-said" aria-live="polite">
          {look ? (
            <>
              {counted(look.rows, "line")} below the heading: <b>{counted(look.cards, "card")}</b>
              {look.refused_count > 0 && <b className="needs">, {look.refused_count} left out</b>}
              {look.no_card_count > 0 && `, ${look.no_card_count} no card`}
              {look.types.length > 0 &&
                ` · ${counted(look.types.length, "type")}: ${look.types.slice(0, 6).join(", ")}`}
            </>
          ) : (
            `Reading ${file.name}…`
          )}
        </p>
        <button type="button" className="button" onClick={cancel}>
          Another way
        </button>
        <button
          type="button"
          className="button button-main"
          disabled={!look?.cards || !name.trim() || busy}
          onClick={() => void begin()}
        >
          {look ? `Create with ${counted(look.cards, "card")}` : "Create"}
        </button>
      </header>
      <ProblemNote of={trouble} />
      {look && (
        <div className="sheet-game-body">
          <div className="form-row">
            <label className="labelled">
              The header is line
              <input
                className="input num-input"
                inputMode="numeric"
                value={wishes.header ?? look.header}
                onChange={(event) => {
                  const header = Number(event.target.value.replace(/\D/g, "")) || null;
                  setWishes((before) => ({ ...before, header, columns: {} }));
                }}
              />
            </label>
            {look.sheets.length > 1 && (
              <label className="labelled">
                Sheet
                <select
                  className="input"
                  value={look.sheet}
                  onChange={(event) => setWishes({ columns: {}, sheet: event.target.value })}
                >
                  {look.sheets.map((each) => (
                    <option key={each}>{each}</option>
                  ))}
                </select>
              </label>
            )}
            {look.notes.map((note) => (
              <span key={note} className="soft">
                {note}
              </span>
            ))}
          </div>
          <div className="sheet-columns" tabIndex={0} role="region" aria-label="Columns of the sheet">
            <table>
              <thead>
                <tr>
                  <th scope="col">Column</th>
                  <th scope="col">Holds</th>
                  <th scope="col">Is</th>
                  <th scope="col">Role</th>
                </tr>
              </thead>
              <tbody>
                {look.columns.map((each) => (
                  <tr key={each.index} className={each.kind === "out" ? "sheet-out" : ""}>
                    <th scope="row" dir="auto">
                      {each.heading || <span className="soft">no heading</span>}
                    </th>
                    <td className="soft sheet-samples" dir="auto" title={each.samples.join(" · ")}>
                      {each.samples.join(" · ")}
                    </td>
                    <td>
                      <select
                        className="input"
                        aria-label={`What ${each.name} is`}
                        value={each.kind}
                        onChange={(event) => wish(each.index, { kind: event.target.value, role: "" })}
                      >
                        {look.kinds.map((kind) => (
                          <option key={kind} value={kind}>
                            {KINDS[kind] ?? kind}
                          </option>
                        ))}
                      </select>
                    </td>
                    <td>
                      <select
                        className="input"
                        aria-label={`Role of ${each.name}`}
                        value={each.role ?? ""}
                        disabled={["effect", "type", "code", "out"].includes(each.kind)}
                        onChange={(event) => wish(each.index, { role: event.target.value })}
                      >
                        {["", ...look.roles].map((role) => (
                          <option key={role} value={role}>
                            {ROLES[role] ?? role}
                          </option>
                        ))}
                      </select>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <SheetLines look={look} wishes={wishes} setWishes={setWishes} />
        </div>
      )}
    </section>
  );
}

function titleOf(file: string): string {
  const stem = file
    .replace(/\.[^.]*$/, "")
    .replace(/[_.\s-]+/g, " ")
    .trim();
  return stem ? stem[0]?.toUpperCase() + stem.slice(1) : "";
}
