import { Dialog } from "radix-ui";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, api, ask, newKey, type Schemas } from "../state/client";
import { applyEdit, useGame } from "../state/game";

type Plan = Schemas["ImportOut"];
type Wishes = {
  set_name?: string;
  columns: Record<number, string | null>;
  corrections: Record<string, string>;
  accept_near: boolean;
};
type Trouble = { detail: string; mend?: string };
const NO_WISHES: Wishes = { columns: {}, corrections: {}, accept_near: false };

/** A file looked at, mended where it must be, then taken in as one step. */
export function ImportDialog({
  open,
  setOpen,
  done,
}: {
  open: boolean;
  setOpen: (open: boolean) => void;
  done: (set: string) => void;
}) {
  const game = useGame((state) => state.game);
  const [file, setFile] = useState<File | null>(null);
  const [wishes, setWishes] = useState<Wishes>(NO_WISHES);
  const [plan, setPlan] = useState<Plan | null>(null);
  const [trouble, setTrouble] = useState<Trouble | null>(null);
  const [busy, setBusy] = useState(false);
  const asked = useRef(0);

  const look = useCallback(
    async (chosen: File, wanted: Wishes) => {
      if (!game) return;
      asked.current += 1;
      const mine = asked.current;
      setBusy(true);
      try {
        const found = await ask(
          api.POST("/api/games/{game_id}/imports/preview", {
            params: { path: { game_id: game.id } },
            ...upload(chosen, wanted),
          }),
        );
        if (mine === asked.current) {
          setPlan(found);
          setTrouble(null);
        }
      } catch (error) {
        if (mine === asked.current) {
          setTrouble(error instanceof ApiError ? error.problem : { detail: String(error) });
          setPlan(null);
        }
      } finally {
        if (mine === asked.current) setBusy(false);
      }
    },
    [game],
  );

  useEffect(() => {
    if (file) void look(file, wishes);
  }, [file, wishes, look]);

  const take = async () => {
    if (!file || !game) return;
    setBusy(true);
    try {
      const taken = await ask(
        api.POST("/api/games/{game_id}/imports", {
          params: { path: { game_id: game.id }, header: { "idempotency-key": newKey() } },
          ...upload(file, wishes),
        }),
      );
      if (taken.edit) {
        applyEdit(taken.edit);
        const made = taken.edit.sets.find((set) => set.code === taken.set_code);
        if (made) done(made.id);
      }
      close(false);
    } catch (error) {
      setTrouble(error instanceof ApiError ? error.problem : { detail: String(error) });
    } finally {
      setBusy(false);
    }
  };
  const close = (next: boolean) => {
    setOpen(next);
    if (!next) {
      setFile(null);
      setPlan(null);
      setTrouble(null);
      setWishes(NO_WISHES);
    }
  };
  const choose = (chosen: File | undefined) => {
    if (!chosen) return;
    setWishes(NO_WISHES);
    setPlan(null);
    setFile(chosen);
  };
  return (
    <Dialog.Root open={open} onOpenChange={close}>
      <Dialog.Portal>
        <Dialog.Overlay className="veil" />
        <Dialog.Content className="sheet-dialog" aria-describedby={undefined}>
          <div className="sheet-head">
            <Dialog.Title>Import a sheet of cards</Dialog.Title>
            <Dialog.Close className="small-button">Close</Dialog.Close>
          </div>
          <section
            className={plan ? "drop drop-small" : "drop"}
            aria-label="File"
            onDragOver={(event) => event.preventDefault()}
            onDrop={(event) => {
              event.preventDefault();
              choose(event.dataTransfer.files[0]);
            }}
          >
            <label className="button">
              Choose a file
              <input
                type="file"
                className="unseen"
                accept=".csv,.tsv,.txt,text/csv,text/plain"
                onChange={(event) => choose(event.target.files?.[0])}
              />
            </label>
            <span className="soft">
              {file
                ? `${file.name}, ${Math.max(1, Math.round(file.size / 1024)).toLocaleString()} KB`
                : "or drop it here: CSV or TSV, as a spreadsheet saves it"}
            </span>
            {plan && (
              <span className="soft">
                {plan.encoding}, cut at {plan.delimiter}, header in row {plan.header}
              </span>
            )}
            {busy && <span className="soft">Reading…</span>}
          </section>
          {trouble && (
            <p role="alert" className="trouble">
              <b className="needs">{trouble.detail}</b>
              {trouble.mend ? ` — ${trouble.mend}` : ""}
            </p>
          )}
          {plan && <PlanView plan={plan} wishes={wishes} setWishes={setWishes} />}
          {plan && (
            <div className="sheet-foot">
              <b className="said">{plan.said}</b>
              <button
                type="button"
                className="button button-main"
                disabled={busy || plan.taken_count === 0}
                onClick={() => void take()}
              >
                Take {plan.taken_count} cards
              </button>
            </div>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function upload(file: File, wishes: Wishes) {
  return {
    body: { file: "", wishes: JSON.stringify(wishes) },
    bodySerializer: () => {
      const form = new FormData();
      form.append("file", file);
      form.append("wishes", JSON.stringify(wishes));
      return form;
    },
  };
}

function PlanView({ plan, wishes, setWishes }: { plan: Plan; wishes: Wishes; setWishes: (wishes: Wishes) => void }) {
  const near = plan.refused.filter((refusal) => refusal.near).length;
  const noted = plan.taken.filter((row) => row.notes.some((note) => !note.startsWith("behaviour")));
  const unwritten = plan.taken.filter((row) => row.notes.some((note) => note.startsWith("behaviour"))).length;
  return (
    <div className="plan">
      <div className="plan-set">
        <label>
          New set{" "}
          <input
            className="input"
            defaultValue={plan.set_name}
            onBlur={(event) => setWishes({ ...wishes, set_name: event.target.value })}
          />
        </label>
        <span className="soft">codes {plan.set_code}-001 and on, where the sheet has none</span>
      </div>
      <h3>Columns</h3>
      <div className="plan-columns">
        {plan.columns.map((column) => (
          <label key={column.index} className={column.target ? "" : "plan-out"}>
            <span title={column.heading}>{column.heading.trim() || `column ${column.index + 1}`}</span>
            <select
              aria-label={`Field fed by ${column.heading.trim() || `column ${column.index + 1}`}`}
              className="select"
              value={column.target ?? ""}
              onChange={(event) =>
                setWishes({ ...wishes, columns: { ...wishes.columns, [column.index]: event.target.value || null } })
              }
            >
              <option value="">left out</option>
              {plan.targets.map((target) => (
                <option key={target.id} value={target.id}>
                  {target.name}
                </option>
              ))}
            </select>
          </label>
        ))}
      </div>
      {plan.warnings.map((warning) => (
        <p key={warning.what} className="needs">
          {warning.what} — {warning.mend}
        </p>
      ))}
      <h3>
        Refused <span className="chip-count">{plan.refused.length}</span>
        {near > 0 && (
          <button type="button" className="small-button" onClick={() => setWishes({ ...wishes, accept_near: true })}>
            Accept {near === 1 ? "the near value" : `all ${near} near values`}
          </button>
        )}
      </h3>
      {plan.refused.length > 0 ? (
        <table className="plan-table">
          <thead>
            <tr>
              <th scope="col">Row</th>
              <th scope="col">Column</th>
              <th scope="col">Value</th>
              <th scope="col">Why, and the mend</th>
              <th scope="col">Read it as</th>
            </tr>
          </thead>
          <tbody>
            {plan.refused.slice(0, 300).map((refusal) => (
              <Refused key={refusal.row} refusal={refusal} plan={plan} wishes={wishes} setWishes={setWishes} />
            ))}
          </tbody>
        </table>
      ) : (
        <p className="soft">Every row with a card on it can be taken.</p>
      )}
      <h3>
        Skipped <span className="chip-count">{plan.skipped.length}</span>
      </h3>
      <ul className="plan-list">
        {plan.skipped.slice(0, 300).map((skip) => (
          <li key={skip.row}>
            row {skip.row}: {skip.why} {skip.value && <q>{skip.value}</q>}
          </li>
        ))}
      </ul>
      <h3>
        Taken <span className="chip-count">{plan.taken_count}</span>
      </h3>
      {unwritten > 0 && (
        <p className="soft">
          {unwritten} cards print their rules text as it stands and are marked “behaviour not written”.
        </p>
      )}
      <ul className="plan-list">
        {noted.map((row) => (
          <li key={row.row}>
            row {row.row}, {row.code}: {row.notes.filter((note) => !note.startsWith("behaviour")).join("; ")}
          </li>
        ))}
      </ul>
    </div>
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
