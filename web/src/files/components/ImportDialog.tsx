import { Dialog } from "radix-ui";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiError, newKey } from "../../state/client";
import { useGame } from "../../state/store";
import { applyEdit } from "../../state/sync";
import * as requests from "../api";
import { actOf, NO_WISHES, type Plan, type Wishes } from "../importOptions";
import { READ_FORMATS } from "../tableFormats";
import { ImportPlanView } from "./ImportPlanView";
import { ReadOptions } from "./ReadOptions";

type Trouble = { detail: string; mend?: string };

/** Import a table file: preview, corrections, then one edit. */
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
  /** Whether it was said, by a person or by the sheet itself, how rows are matched. */
  const said = useRef(false);

  const look = useCallback(
    async (chosen: File, wanted: Wishes) => {
      if (!game) return;
      asked.current += 1;
      const mine = asked.current;
      setBusy(true);
      try {
        const found = await requests.look({
          params: { path: { game_id: game.id } },
          ...upload(chosen, wanted),
        });
        if (mine !== asked.current) return;
        // A sheet whose codes are known is an update, unless somebody said otherwise.
        if (found.suggested === "code" && !said.current) {
          said.current = true;
          setWishes({ ...wanted, match: "code" });
          return;
        }
        setPlan(found);
        setTrouble(null);
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

  const choosing = (next: Wishes) => {
    said.current = true;
    setWishes(next);
  };
  const take = async () => {
    if (!file || !game) return;
    setBusy(true);
    try {
      const taken = await requests.take({
        params: { path: { game_id: game.id }, header: { "idempotency-key": newKey() } },
        ...upload(file, wishes),
      });
      if (taken.edit) {
        applyEdit(taken.edit);
        const made = taken.edit.sets.find((set) => set.code === taken.set_code);
        if (made && !wishes.set_id && wishes.match === "new") done(made.id);
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
    said.current = false;
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
            <Dialog.Title>Import a table file</Dialog.Title>
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
                accept={READ_FORMATS}
                onChange={(event) => choose(event.target.files?.[0])}
              />
            </label>
            <span className="soft">
              {file
                ? `${file.name}, ${Math.max(1, Math.round(file.size / 1024)).toLocaleString()} KB`
                : "or drop it here: CSV, TSV, XLSX or JSON, tidy or not"}
            </span>
            {busy && <span className="soft">Reading…</span>}
          </section>
          {trouble && (
            <p role="alert" className="trouble">
              <b className="needs">{trouble.detail}</b>
              {trouble.mend ? ` — ${trouble.mend}` : ""}
            </p>
          )}
          {plan && (
            <div className="plan">
              <ReadOptions plan={plan} wishes={wishes} setWishes={choosing} />
              <ImportPlanView plan={plan} wishes={wishes} setWishes={choosing} />
            </div>
          )}
          {plan && (
            <div className="sheet-foot">
              <b className="said">{plan.said}</b>
              <button
                type="button"
                className="button button-main"
                disabled={busy || !plan.ready}
                onClick={() => void take()}
              >
                {actOf(plan)}
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
