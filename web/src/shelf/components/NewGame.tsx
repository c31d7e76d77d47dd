// New games: from a table file, from a template, empty, from a backup, or a demo game.

import { FileSpreadsheet } from "lucide-react";
import { useRef, useState } from "react";
import { READ_FORMATS } from "../../files/tableFormats";
import type { Shelved, useShelf } from "../useShelf";
import { NameDialog } from "./NameDialog";
import { ProblemNote } from "./ProblemNote";

type Props = {
  shelf: ReturnType<typeof useShelf>;
  chosen: (file: File) => void;
  begun: (game: Shelved) => void;
};
const EMPTY = { id: null, name: "an empty game", about: "One type of card with a name, a group and a text; no cards." };

export function NewGame({ shelf, chosen, begun }: Props) {
  const sheet = useRef<HTMLInputElement>(null);
  const archive = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [beginning, setBeginning] = useState<{ id: string | null; name: string; about: string } | null>(null);
  const held = shelf.shelf;
  const ask = (what: { id: string | null; name: string; about: string }) => {
    shelf.drop();
    setBeginning(what);
  };
  const begin = async (name: string) => {
    if (!beginning) return;
    const game = await shelf.begin(name, beginning.id);
    if (game) begun(game);
  };
  const restored = async (file: File | undefined) => {
    const game = file && (await shelf.restore(file));
    if (game) begun({ ...game, sets: 1, edited: "", away: false });
  };
  return (
    <section className="begin" aria-label="New game">
      <header className="begin-head">
        <h2>New game</h2>
        <div className="begin-more">
          <button type="button" className="button" disabled={shelf.busy} onClick={() => archive.current?.click()}>
            Restore a backup…
          </button>
          <input
            ref={archive}
            type="file"
            className="unseen"
            tabIndex={-1}
            accept=".zip,.dramok"
            aria-label="A backup to restore"
            onChange={(event) => {
              const file = event.target.files?.[0];
              event.target.value = "";
              void restored(file);
            }}
          />
          {held?.demos.map((demo) => (
            <button
              key={demo.id}
              type="button"
              className="button"
              disabled={shelf.busy}
              onClick={() => void shelf.demo(demo.id as "ribbon-season").then((game) => game && begun(game))}
            >
              Demo game: {demo.name}
            </button>
          ))}
        </div>
      </header>
      <ul className="begin-ways">
        <li>
          <button
            type="button"
            className={`begin-way begin-sheet ${over ? "begin-over" : ""}`}
            onClick={() => sheet.current?.click()}
            onDragOver={(event) => {
              event.preventDefault();
              setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={(event) => {
              event.preventDefault();
              setOver(false);
              const file = event.dataTransfer.files[0];
              if (file) chosen(file);
            }}
          >
            <FileSpreadsheet size={26} strokeWidth={1.5} aria-hidden="true" />
            <span>
              <b>From a table file</b>
              <span className="begin-about">
                Drop a CSV, TSV, XLSX or JSON file here, or choose one. Columns become fields, and each row becomes a
                card.
              </span>
            </span>
          </button>
        </li>
        {held?.shapes.map((shape) => (
          <li key={shape.id}>
            <button type="button" className="begin-way" onClick={() => ask(shape)}>
              <b>{shape.name}</b>
              <span className="begin-about">
                {shape.about} {shape.cards} sample cards.
              </span>
            </button>
          </li>
        ))}
        <li>
          <button type="button" className="begin-way" onClick={() => ask(EMPTY)}>
            <b>Empty</b>
            <span className="begin-about">{EMPTY.about}</span>
          </button>
        </li>
      </ul>
      <input
        ref={sheet}
        type="file"
        className="unseen"
        tabIndex={-1}
        accept={READ_FORMATS}
        aria-label="A table file to start from"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (file) chosen(file);
        }}
      />
      {!beginning && <ProblemNote of={shelf.trouble} />}
      {beginning && (
        <NameDialog
          title={`New game: ${beginning.id ? beginning.name.toLowerCase() : "empty"}`}
          about={beginning.about}
          label="Name"
          act="Create"
          trouble={shelf.trouble}
          busy={shelf.busy}
          done={(name) => void begin(name)}
          cancel={() => setBeginning(null)}
        />
      )}
    </section>
  );
}
