// Import a deck list with a live preview, or export it as text, CSV or JSON.

import { useRef, useState } from "react";
import type { Deck } from "../../state/client";
import { takeList } from "../../state/deckEdits";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { SheetDialog, SheetFoot } from "../../ui/Sheet";
import { Picking } from "../../ui/Typing";
import * as requests from "../api";

type Props = { way: "in" | "out"; deck: Deck | undefined; choose: (id: string) => void; close: () => void };

export function ListDialog({ way, deck, choose, close }: Props) {
  return way === "in" ? (
    <BringIn deck={deck} choose={choose} close={close} />
  ) : (
    <TakeOut deck={deck as Deck} close={close} />
  );
}

function BringIn({ deck, choose, close }: Omit<Props, "way">) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const [text, setText] = useState("");
  const [filename, setFilename] = useState("");
  const [into, setInto] = useState("");
  const [busy, setBusy] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const body = { text, filename, deck: into, name: "", format: "" };
  const { found, trouble } = useAsked(
    game && text.trim() ? () => requests.lookAtDecklist({ params: { path: { game_id: game.id } }, body }) : null,
    [game?.id, text, filename, into],
  );
  if (!game) return null;
  const take = async () => {
    setBusy(true);
    const edit = await takeList(body);
    setBusy(false);
    if (!edit) return;
    const made = into || edit.made[0];
    if (made) choose(made);
    close();
  };
  const rules = game.formats.find((each) => each.id === found?.format)?.name;
  return (
    <SheetDialog
      open
      setOpen={(open) => !open && close()}
      title="Bring in a decklist"
      about="A count and a name or code on each line, in any order; “Side:” begins a section; # begins a comment."
      className="list-sheet"
    >
      <div className="list-in">
        <textarea
          data-first
          className="input"
          aria-label="Decklist"
          rows={14}
          spellCheck={false}
          placeholder={example(Object.values(cards).map((card) => card.title))}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setFilename("");
          }}
        />
        <div className="list-look" aria-live="polite">
          {trouble && (
            <p className="needs">
              {trouble.detail} — {trouble.mend}
            </p>
          )}
          {!found && !trouble && <p className="soft">What is understood appears here.</p>}
          {found && (
            <>
              <p>
                <b>{counted(found.cards, "card")}</b> understood{found.name ? `, called ${found.name}` : ""};{" "}
                {found.legal ? (
                  <span className="holds">legal in {rules}</span>
                ) : (
                  <span className="needs">
                    in {rules}: {found.problems[0]?.what}
                  </span>
                )}
              </p>
              {found.troubles.length > 0 && (
                <ul className="list-troubles">
                  {found.troubles.map((each, place) => (
                    <li key={`${each.line} ${place}`}>
                      <span className="num">{each.line}</span>
                      <span>
                        <b>{each.text || "…"}</b> {each.taken ? "" : "left out: "}
                        {each.what} — {each.mend}
                        {!each.taken &&
                          each.options.map((id) => (
                            <button
                              key={id}
                              type="button"
                              className="small-button"
                              onClick={() => setText(withLine(text, each.line, each.text, cards[id]?.code ?? ""))}
                            >
                              {cards[id]?.title}
                            </button>
                          ))}
                      </span>
                    </li>
                  ))}
                  {found.trouble_count > found.troubles.length && (
                    <li className="soft">and {counted(found.trouble_count - found.troubles.length, "line")} more</li>
                  )}
                </ul>
              )}
            </>
          )}
        </div>
      </div>
      <div className="form form-row">
        <button type="button" className="button" onClick={() => file.current?.click()}>
          Open a file …
        </button>
        <input
          ref={file}
          type="file"
          className="unseen"
          tabIndex={-1}
          aria-label="Decklist file"
          accept=".txt,.csv,.json,.tsv,text/plain"
          onChange={async (event) => {
            const chosen = event.target.files?.[0];
            if (!chosen) return;
            setText(await decoded(chosen));
            setFilename(chosen.name);
            event.target.value = "";
          }}
        />
        {deck && (
          <Picking
            label="Goes"
            value={into}
            options={[
              ["", "into a new deck"],
              [deck.id, `in place of ${deck.name}`],
            ]}
            commit={setInto}
          />
        )}
      </div>
      <SheetFoot
        act={found ? `Import ${counted(found.cards, "card")}` : "Import"}
        ready={!busy && !!found && found.cards > 0}
        onAct={() => void take()}
        cancel={close}
      />
    </SheetDialog>
  );
}

/** UTF-8, else as older programs write. */
async function decoded(file: File): Promise<string> {
  const data = await file.arrayBuffer();
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(data);
  } catch {
    return new TextDecoder("windows-1252").decode(data);
  }
}

/** The list with one line naming a card by its code, its count as it was. */
function withLine(text: string, line: number, said: string, code: string): string {
  const lines = text.split("\n");
  const [count] = /[+-]?\d+/.exec(said) ?? ["1"];
  lines[line - 1] = `${count} ${code}`;
  return lines.join("\n");
}

function example(titles: string[]): string {
  const [one = "", other = one, third = other] = titles;
  return one ? `3 ${one}\n2 ${other}\n\nSide:\n1 ${third}` : "3 …";
}

const FORMS = [
  ["txt", "Text"],
  ["csv", "CSV"],
  ["json", "JSON"],
] as const;

function TakeOut({ deck, close }: { deck: Deck; close: () => void }) {
  const game = useGame((state) => state.game);
  const seq = useGame((state) => state.seq);
  const [form, setForm] = useState<string>("txt");
  const [copied, setCopied] = useState(false);
  const address = `/api/games/${game?.id}/decks/${deck.id}/list?form=${form}`;
  const { found } = useAsked(() => fetch(address).then((answer) => answer.text()), [address, seq]);
  return (
    <SheetDialog open setOpen={(open) => !open && close()} title={`List of ${deck.name}`} className="list-sheet">
      <div className="form form-row">
        <Picking label="As" value={form} options={FORMS} commit={setForm} />
      </div>
      <textarea className="input list-out" aria-label="Decklist" rows={16} readOnly value={found ?? ""} />
      <div className="small-sheet-foot">
        <span className="small-sheet-said" aria-live="polite">
          {copied ? "Copied" : ""}
        </span>
        <button type="button" className="button" onClick={close}>
          Close
        </button>
        <a className="button" href={address} download>
          Save as a file
        </a>
        <button
          type="button"
          data-first
          className="button button-main"
          onClick={async () => {
            const area = document.querySelector<HTMLTextAreaElement>(".list-out");
            area?.select();
            // Without the right to the clipboard the list is selected: Ctrl C copies it.
            await navigator.clipboard?.writeText(found ?? "").then(
              () => setCopied(true),
              () => undefined,
            );
          }}
        >
          Copy
        </button>
      </div>
    </SheetDialog>
  );
}
